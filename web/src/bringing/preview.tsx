import { useEffect, useRef, useState } from "react";
import {
  AmbientLight,
  type Bone,
  Box3,
  Color,
  DirectionalLight,
  GridHelper,
  type Mesh,
  MeshLambertMaterial,
  type MeshStandardMaterial,
  type Object3D,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { modelUrl } from "../picture/models";

const loader = new GLTFLoader();
const PERSON_M = 0.6;
/** How tall the lay figure is that stands beside it. */
const LAY_FIGURE_M = 1.7;
/** Where it is seen from: the right, in front, a little above. */
const FROM = new Vector3(0.75, 0.5, 1).normalize();

const FACING = new Vector3(0.35, 0.22, 1).normalize();

/** Light that needs no stage. */
function inPlainLight(root: Object3D): Object3D {
  root.traverse((node) => {
    const mesh = node as Mesh;
    if (!mesh.isMesh) return;
    const { map } = mesh.material as MeshStandardMaterial;
    mesh.material = new MeshLambertMaterial({ vertexColors: Boolean(mesh.geometry.attributes.color), map });
    mesh.frustumCulled = false;
  });
  return root;
}

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
    const gl = new WebGLRenderer({ canvas: to, antialias: true, preserveDrawingBuffer: true });
    gl.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    const { clientWidth: wide, clientHeight: high } = to;
    gl.setSize(wide, high, false);
    const scene = new Scene();
    scene.background = new Color("#cfd3d0");
    const eye = new PerspectiveCamera(35, wide / high, 0.02, 8000);
    const sun = new DirectionalLight("#fff3e0", 2.1);
    sun.position.set(3, 5, 4);
    scene.add(sun, new AmbientLight("#c5d1da", 1.5));
    const round = new OrbitControls(eye, to);
    round.enableDamping = false;
    round.listenToKeyEvents(to);
    const draw = () => !gone && gl.render(scene, eye);
    round.addEventListener("change", draw);
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
        const [middle, size] = [box.getCenter(new Vector3()), box.getSize(new Vector3())];
        const reach = Math.max(size.x, size.z, 2) * 1.6;
        const step = reach > 200 ? 100 : reach > 20 ? 10 : 1;
        const many = Math.max(Math.ceil(reach / step) * 2, 4);
        const grid = new GridHelper(many * step, many, "#8d948f", "#a9b0ab");
        grid.position.set(middle.x, box.min.y - 0.002, middle.z);
        scene.add(model.scene, beside, grid);
        const far = (0.5 * Math.max(size.length(), 1.8)) / Math.tan((35 * Math.PI) / 360);
        eye.position.copy(middle).addScaledVector(tall ? FACING : FROM, far);
        eye.near = far / 500;
        eye.far = far * 20;
        eye.updateProjectionMatrix();
        round.target.copy(middle);
        round.update();
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
      round.dispose();
      gl.dispose();
      gl.forceContextLoss();
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
