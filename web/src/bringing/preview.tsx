import { useEffect, useRef, useState } from "react";
import { type Bone, Box3, type Object3D, Vector3 } from "three";
import { modelUrl } from "../picture/models";
import { FACING, inPlainLight, loader, openStage } from "./preview-stage";

const PERSON_M = 0.6;
/** How tall the lay figure is that stands beside it. */
const LAY_FIGURE_M = 1.7;
/** Where it is seen from: the right, in front, a little above. */
const FROM = new Vector3(0.75, 0.5, 1).normalize();

/** How both are posed: turns of joints about their own axes, degrees, for either side. */
export const POSES = [
  { value: "hanging", label: "Arms down", turns: {} },
  { value: "out", label: "Arms out", turns: { shoulder: [0, 0, 85], elbow: [0, 0, 0] } },
  {
    value: "seated",
    label: "Seated",
    turns: { hip: [85, 0, 0], knee: [-88, 0, 0], shoulder: [35, 0, 8], elbow: [60, 0, 0], neck: [-10, 0, 0] },
  },
] as const;
const MOVED = new Set(POSES.flatMap((one) => Object.keys(one.turns)));
export type PoseName = (typeof POSES)[number]["value"];

/** Turn the joints of a body, found by their names. */
function applyPose(body: Object3D, name: PoseName): void {
  const turns: Record<string, readonly number[]> = POSES.find((one) => one.value === name)?.turns ?? {};
  body.traverse((node) => {
    const [joint, side] = node.name.split(/_(?=[rl]$)/);
    // The joints of a face stay as they are.
    if (!(node as Bone).isBone || !MOVED.has(joint)) return;
    const [x, y, z] = (turns[joint] ?? [0, 0, 0]).map((one) => (one * Math.PI) / 180);
    const sign = side === "l" ? -1 : 1;
    node.rotation.set(x, sign * y, sign * z);
  });
}

/** A file that was read, with somebody of usual height beside it; a drag goes round it. */
export function Preview({
  file,
  tall,
  pose,
  onPicture,
}: {
  file: string;
  /** Of a character: how tall it is in metres. */
  tall?: number;
  pose?: PoseName;
  onPicture: (picture: Blob) => void;
}) {
  const bodies = useRef<{ both: Object3D[]; draw: () => void } | null>(null);
  const poseNow = useRef(pose);
  poseNow.current = pose;
  useEffect(() => {
    for (const body of bodies.current?.both ?? []) applyPose(body, pose ?? "hanging");
    bodies.current?.draw();
  }, [pose]);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [shown, setShown] = useState<"loading" | "there" | "failed">("loading");
  const told = useRef(onPicture);
  told.current = onPicture;
  useEffect(() => {
    const to = canvas.current;
    if (!to) return;
    setShown("loading");
    let gone = false;
    const stage = openStage(to);
    const { scene, draw } = stage;
    Promise.all([loader.loadAsync(modelUrl(file)), loader.loadAsync("/api/shapes/person.glb")]).then(
      ([model, person]) => {
        if (gone) return;
        if (tall) {
          // A character is kept as high as 1, facing away.
          model.scene.scale.setScalar(tall);
          model.scene.rotation.y = Math.PI;
          person.scene.scale.setScalar(tall / LAY_FIGURE_M);
          model.scene.updateMatrixWorld(true);
        }
        const box = new Box3().setFromObject(inPlainLight(model.scene), tall !== undefined);
        const beside = inPlainLight(person.scene);
        beside.position.set(box.max.x + PERSON_M, box.min.y, tall ? 0 : box.max.z);
        beside.rotation.y = Math.PI;
        beside.updateMatrixWorld(true);
        // Two who are compared are both in the middle.
        if (tall) box.expandByObject(beside, true);
        scene.add(model.scene, beside);
        stage.frame(box, tall ? FACING : FROM);
        if (tall) {
          bodies.current = { both: [model.scene, beside], draw };
          for (const body of bodies.current.both) applyPose(body, poseNow.current ?? "hanging");
        }
        draw();
        setShown("there");
        to.toBlob((picture) => picture && !gone && told.current(picture), "image/jpeg", 0.88);
      },
      () => !gone && setShown("failed"),
    );
    return () => {
      gone = true;
      bodies.current = null;
      stage.close();
    };
  }, [file, tall]);
  return (
    <div className="relative h-72 w-full overflow-hidden rounded border border-line bg-sheet">
      <canvas
        key={file}
        ref={canvas}
        tabIndex={0}
        aria-label="What was read, with a person beside it; drag to go round it, wheel to come nearer"
        className="h-full w-full touch-none"
        data-state={shown}
      />
      {shown !== "there" && (
        <p className="absolute inset-0 grid place-items-center text-sm text-faint">
          {shown === "loading"
            ? "Drawing it…"
            : "It cannot be drawn here. It can be put on the stage all the same."}
        </p>
      )}
    </div>
  );
}
