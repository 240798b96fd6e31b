import { Pause, Play } from "lucide-react";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import {
  type Bone,
  Box3,
  BufferGeometry,
  Float32BufferAttribute,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  SphereGeometry,
  Vector3,
} from "three";
import type { GLTF } from "three/addons/loaders/GLTFLoader.js";
import type { Schemas } from "../api/types";
import { Button } from "../ui/button";
import { FACING, inPlainLight, loader, openStage } from "./preview-stage";

type Beside = Schemas["BesideOut"];
/** How far apart the two stand, metres. */
const APART_M = 1.0;
/** A press is on a joint within so many pixels. */
const NEAR_PX = 14;
const [KNOWN, OTHER, CHOSEN] = ["#2f5f8a", "#8d948f", "#d0711b"];

/** A skeleton of lines with a dot on each joint. */
class Stick extends Group {
  private readonly dots: Mesh[];
  private readonly lines = new LineSegments(
    new BufferGeometry(),
    new LineBasicMaterial({ color: "#3a4248" }),
  );
  private readonly pairs: [number, number][];
  private readonly ends: Float32BufferAttribute;

  constructor({ parents }: Beside) {
    super();
    const ball = new SphereGeometry(0.022, 12, 8);
    this.dots = parents.map(() => new Mesh(ball, new MeshBasicMaterial()));
    this.pairs = parents.flatMap((above, i): [number, number][] => (above >= 0 ? [[above, i]] : []));
    this.lines.frustumCulled = false;
    this.ends = new Float32BufferAttribute(new Float32Array(6 * this.pairs.length), 3);
    this.lines.geometry.setAttribute("position", this.ends);
    this.add(this.lines, ...this.dots);
  }

  /** Stand as in one frame. */
  stand(places: number[][]): void {
    this.ends.array.set(this.pairs.flatMap((pair) => pair.flatMap((i) => places[i])));
    this.ends.needsUpdate = true;
    for (const [i, dot] of this.dots.entries()) dot.position.fromArray(places[i]);
  }

  colour(known: Set<number>, chosen: number): void {
    for (const [i, dot] of this.dots.entries()) {
      (dot.material as MeshBasicMaterial).color.set(i === chosen ? CHOSEN : known.has(i) ? KNOWN : OTHER);
      dot.scale.setScalar(i === chosen ? 1.7 : known.has(i) ? 1 : 0.6);
    }
  }

  /** The joint that is nearest to a place in the picture, −1 to 1 across and up, with how far that is in pixels. */
  nearest(x: number, y: number, camera: Parameters<Vector3["project"]>[0], wide: number, high: number) {
    const far = this.dots.map((dot) => {
      const at = dot.getWorldPosition(new Vector3()).project(camera);
      return Math.hypot(((at.x - x) * wide) / 2, ((at.y - y) * high) / 2);
    });
    const i = far.indexOf(Math.min(...far));
    return far[i] <= NEAR_PX ? i : -1;
  }
}

/** A recorded skeleton and a figure that does what it does, side by side on the spot. */
export function MotionPreview({
  beside,
  known,
  chosen,
  onPick,
}: {
  beside: Beside;
  /** Which of the file's joints are a figure's, and the one that is being corrected. */
  known: number[];
  chosen: number;
  onPick: (joint: number) => void;
}) {
  const count = beside.seconds.length;
  const [at, setAt] = useState(Math.floor(count / 3));
  const [plays, setPlays] = useState(false);
  const [phase, setPhase] = useState<"loading" | "there" | "failed">("loading");
  const shown = phase === "there";
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<{
    stick: Stick;
    bones: Map<string, Bone>;
    stage: ReturnType<typeof openStage>;
  } | null>(null);
  const pressed = useRef<[number, number]>([0, 0]);

  useEffect(() => {
    const to = canvas.current;
    if (!to) return;
    let gone = false;
    const stage = openStage(to);
    const put = (person: GLTF) => {
      if (gone) return;
      const stick = new Stick(beside);
      const body = inPlainLight(person.scene);
      // Both face us.
      for (const one of [stick, body]) one.rotation.y = Math.PI;
      stick.position.x = -APART_M / 2;
      body.position.x = APART_M / 2;
      stage.scene.add(stick, body);
      stage.frame(new Box3(new Vector3(-0.6, 0, -0.5), new Vector3(0.6, 1.7, 0.5)), FACING);
      const bones = new Map<string, Bone>();
      body.traverse((node) => (node as Bone).isBone && bones.set(node.name, node as Bone));
      drawn.current = { stick, bones, stage };
      setPhase("there");
    };
    loader.loadAsync("/api/shapes/person.glb").then(put, () => !gone && setPhase("failed"));
    return () => {
      gone = true;
      drawn.current = null;
      stage.close();
    };
  }, [beside]);

  useEffect(() => {
    const there = drawn.current;
    if (!there || !shown) return;
    there.stick.stand(beside.bones[at]);
    there.stick.colour(new Set(known), chosen);
    for (const [i, name] of beside.joints.entries())
      there.bones.get(name)?.quaternion.fromArray(beside.turns[at][i]).normalize();
    there.bones.get("pelvis")?.position.fromArray(beside.pelvis[at]);
    there.stage.draw();
  }, [beside, at, known, chosen, shown]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: it plays on from where it was
  useEffect(() => {
    if (!plays || !shown) return;
    const [begun, from, long] = [performance.now(), beside.seconds[at], beside.seconds[count - 1] || 1];
    let next = requestAnimationFrame(function go(now) {
      const second = (from + (now - begun) / 1000) % long;
      setAt(
        Math.max(
          beside.seconds.findLastIndex((one) => one <= second),
          0,
        ),
      );
      next = requestAnimationFrame(go);
    });
    return () => cancelAnimationFrame(next);
  }, [plays, shown, beside, count]);

  const pick = (e: PointerEvent<HTMLCanvasElement>) => {
    const there = drawn.current;
    const [x, y] = pressed.current;
    if (!there || Math.hypot(e.clientX - x, e.clientY - y) > 4) return;
    const box = e.currentTarget.getBoundingClientRect();
    const [right, up] = [
      ((e.clientX - box.left) / box.width) * 2 - 1,
      1 - ((e.clientY - box.top) / box.height) * 2,
    ];
    const joint = there.stick.nearest(right, up, there.stage.eye, box.width, box.height);
    if (joint >= 0) onPick(joint);
  };
  return (
    <div className="flex flex-col gap-1.5">
      <div className="relative h-60 w-full overflow-hidden rounded border border-line bg-sheet">
        <canvas
          ref={canvas}
          tabIndex={0}
          aria-label="The recorded skeleton and a figure that does the same; drag to go round them, press a joint to choose it"
          className="h-full w-full touch-none"
          data-state={phase}
          onPointerDown={(e) => {
            pressed.current = [e.clientX, e.clientY];
          }}
          onPointerUp={pick}
        />
        {phase === "failed" && (
          <p className="absolute inset-0 grid place-items-center text-sm text-[#3a4248]">
            It cannot be drawn here. It can be given to a figure all the same.
          </p>
        )}
        <span className="absolute bottom-1 left-2 text-sm text-[#3a4248]">As recorded</span>
        <span className="absolute right-2 bottom-1 text-sm text-[#3a4248]">As a figure does it</span>
      </div>
      <div className="flex items-center gap-2">
        <Button tip={plays ? "Stop there" : "Play it"} onClick={() => setPlays(!plays)}>
          {plays ? <Pause size={14} /> : <Play size={14} />}
        </Button>
        <input
          type="range"
          aria-label="Moment of the motion"
          className="min-w-0 flex-1 accent-slate"
          min={0}
          max={count - 1}
          value={at}
          onChange={(e) => {
            setPlays(false);
            setAt(Number(e.target.value));
          }}
        />
        <span className="w-14 text-right text-sm tabular-nums">{beside.seconds[at].toFixed(2)} s</span>
      </div>
    </div>
  );
}
