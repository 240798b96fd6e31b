import { useThree } from "@react-three/fiber";
import { useWheel } from "@use-gesture/react";
import { type PointerEvent as ReactPointerEvent, useEffect, useRef } from "react";
import { MathUtils, type Object3D, type PerspectiveCamera, Raycaster, Vector2, Vector3 } from "three";
import type { Pose } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { leavePose, poseOf, type Touched, tryPose } from "../store/loose";
import { pause, useMoment } from "../store/moment";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, type Kind, type RoverPose, select, selectAlso, useView } from "../store/view";
import type { Hand, Held } from "../ui/hold";
import { focusOn } from "../verbs/glass";
import { pointedAt } from "./pointed-at";
import { sights, stand } from "./sight";

/** What is held when the picture is pressed. */
export type Grip = (e: ReactPointerEvent) => Held | null;

/** What a click in the picture meets first. */
function hit(
  root: Object3D,
  camera: PerspectiveCamera,
  at: Vector2,
): { kind: Kind; id: string } | { handle: string } | null {
  const ray = new Raycaster();
  ray.setFromCamera(at, camera);
  const targets: Object3D[] = [];
  root.traverse((node) => {
    if (node.userData.pick || node.userData.handle) targets.push(node);
  });
  const found = ray.intersectObjects(targets, false);
  const handle = found.find((f) => f.object.userData.handle);
  if (handle) return { handle: handle.object.userData.handle.id };
  const first = found[0];
  if (!first) return null;
  const { kind, ids } = first.object.userData.pick;
  return { kind, id: ids[first.instanceId ?? 0] };
}

/** Turn a camera by dragging the picture: what is under the hand stays under it. */
function turned(from: Pose, dx: number, dy: number, perPixel: number): Touched {
  return {
    pan: from.pan + dx * perPixel,
    tilt: MathUtils.clamp(from.tilt + dy * perPixel, -89.9, 89.9),
  };
}

/** Move a camera along its own right, up and forward, metres. */
export function slid(from: Pose, right: number, up: number, forward: number): Touched {
  const p = MathUtils.degToRad(from.pan);
  return {
    x: from.x + Math.cos(p) * right - Math.sin(p) * forward,
    ...(up ? { y: from.y + up } : {}),
    z: from.z - Math.sin(p) * right - Math.cos(p) * forward,
  };
}

const tidy = (touched: Touched): Touched =>
  Object.fromEntries(Object.entries(touched).map(([k, v]) => [k, Math.round(v * 10_000) / 10_000]));

/** The hand in the picture: the rover orbits, pans and dollies; a camera turns, trucks, booms and dollies. */
export function HandInPicture({ grip }: { grip: React.RefObject<Grip | null> }) {
  const { gl, camera, scene, size } = useThree();
  useEffect(() => {
    const eye = camera as PerspectiveCamera;
    const canvas = gl.domElement;
    const where = (x: number, y: number) => {
      // The next picture may not have been drawn yet: what is pointed at is what it will show.
      const [sight] = sights(1, 1);
      if (sight) stand(eye, sight, size.width, size.height);
      const box = canvas.getBoundingClientRect();
      return new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
    };

    const take = (e: ReactPointerEvent): Held => {
      const seen = cameraSeen();
      const slide = e.button !== 0 || e.shiftKey;
      const button = e.button;
      const pose = seen ? poseOf(seen, useMoment.getState().stage) : null;
      const cancel = () => {
        endTry();
        dropOverlay();
      };
      const drop = (hand: Hand, moved: boolean, done: () => unknown) =>
        moved ? done() : button === 0 && click(hand);
      const piece =
        useView.getState().through === "rover" && !slide ? raised(where(e.clientX, e.clientY)) : null;
      if (piece) {
        const height = (hand: Hand) =>
          Math.round(Math.max(0.01, piece.height - hand.dy * piece.perPixel) * 100) / 100;
        const command = (hand: Hand) =>
          ({ kind: "piece.set", piece: piece.id, height: height(hand) }) as const;
        return {
          move: (hand) => tryOut(command(hand), useMoment.getState().stage),
          drop: (hand, moved) =>
            drop(hand, moved, async () => {
              endTry();
              complain(await send(command(hand)));
            }),
          cancel,
        };
      }
      if (useView.getState().through === "rover") {
        const { rover } = useView.getState();
        return {
          move: (hand) => useView.setState({ rover: roamed(rover, slide, hand, size.height) }),
          drop: (hand, moved) => drop(hand, moved, () => {}),
          cancel: () => useView.setState({ rover }),
        };
      }
      const perPixel = eye.fov / size.height;
      const reach = 0.01;
      const next = (hand: Hand) =>
        tidy(
          slide
            ? slid(pose as Pose, -hand.dx * reach, hand.dy * reach, 0)
            : turned(pose as Pose, hand.dx, hand.dy, perPixel),
        );
      return {
        move: (hand) => {
          pause();
          if (seen && pose) tryPose(seen, next(hand));
        },
        drop: (hand, moved) => drop(hand, moved, () => seen && pose && leavePose(seen, next(hand))),
        cancel,
      };
    };

    const raised = (at: Vector2) => {
      const found = hit(scene, eye, at);
      const piece =
        found && "handle" in found && itemOf(useDocument.getState().scene, "pieces", found.handle);
      if (!piece) return null;
      const far = eye.position.distanceTo(new Vector3(piece.x, piece.base + piece.height, piece.z));
      const perPixel = (2 * far * Math.tan(MathUtils.degToRad(eye.fov / 2))) / size.height;
      return { id: piece.id, height: piece.height, perPixel };
    };

    const click = (hand: Hand) => {
      if (useView.getState().picking) return void focusOn(pointedAt(scene, eye, where(hand.x, hand.y)));
      const found = hit(scene, eye, where(hand.x, hand.y));
      if (!found || "handle" in found) {
        if (!hand.shift) select(null);
      } else if (hand.shift) selectAlso(found.kind, found.id);
      else select(found.kind, [found.id]);
    };

    grip.current = take;
    return () => {
      grip.current = null;
    };
  }, [gl, camera, scene, size, grip]);

  const wheeled = useRef<{ camera: string; pose: Pose } | null>(null);
  useWheel(
    ({ event, delta: [, dy], last }) => {
      event.preventDefault();
      const { through, rover } = useView.getState();
      if (through === "rover") {
        const distance = MathUtils.clamp(rover.distance * Math.exp(dy * 0.0012), 0.4, 400);
        useView.setState({ rover: { ...rover, distance } });
        return;
      }
      const seen = cameraSeen();
      if (!seen) return;
      pause();
      const from =
        wheeled.current?.camera === seen ? wheeled.current.pose : poseOf(seen, useMoment.getState().stage);
      if (!from) return;
      const touched = tidy(slid(from, 0, 0, -dy * 0.003));
      wheeled.current = last ? null : { camera: seen, pose: { ...from, ...touched } };
      if (last) void leavePose(seen, touched);
      else tryPose(seen, touched);
    },
    { target: { current: gl.domElement }, eventOptions: { passive: false } },
  );
  return null;
}

/** The rover after the hand has moved over the picture: round what it looks at, or along with the hand. */
function roamed(from: RoverPose, slide: boolean, { dx, dy }: Hand, high: number): RoverPose {
  if (!slide)
    return {
      ...from,
      bearing: from.bearing - dx * 0.35,
      height: MathUtils.clamp(from.height + dy * 0.3, -5, 89),
    };
  // The point it looks at moves with the hand, in the plane of the picture.
  const perPixel = (from.distance * 0.65) / high;
  const b = MathUtils.degToRad(from.bearing);
  const h = MathUtils.degToRad(from.height);
  const right = -dx * perPixel;
  const up = dy * perPixel;
  return {
    ...from,
    x: from.x + Math.cos(b) * right - Math.sin(b) * Math.sin(h) * up,
    y: Math.max(from.y + Math.cos(h) * up, 0),
    z: from.z - Math.sin(b) * right - Math.cos(b) * Math.sin(h) * up,
  };
}
