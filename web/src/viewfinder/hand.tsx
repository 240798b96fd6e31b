import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { MathUtils, type Object3D, type PerspectiveCamera, Raycaster, Vector2, Vector3 } from "three";
import type { Pose } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { leavePose, poseOf, type Touched, tryPose } from "../store/loose";
import { pause, useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, type Kind, select, selectAlso, useView } from "../store/view";
import { focusOn } from "../verbs/glass";
import { pointedAt } from "./pointed-at";
import { sights, stand } from "./sight";

interface Grip {
  kind: "look" | "slide" | "height";
  x: number;
  y: number;
  moved: boolean;
  pose: Pose | null;
  camera: string | null;
  piece?: { id: string; height: number; perPixel: number };
  last: Touched | number | null;
}

const CALM = 4;

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
export function Hand() {
  const { gl, camera, scene, size } = useThree();
  useEffect(() => {
    const eye = camera as PerspectiveCamera;
    const canvas = gl.domElement;
    let grip: Grip | null = null;
    let wheelPose: { camera: string; pose: Pose; touched: Touched } | null = null;
    let wheelTimer = 0;

    const where = (e: PointerEvent) => {
      // The next picture may not have been drawn yet: what is pointed at is what it will show.
      const [sight] = sights(1, 1);
      if (sight) stand(eye, sight, size.width, size.height);
      const box = canvas.getBoundingClientRect();
      return new Vector2(
        ((e.clientX - box.left) / box.width) * 2 - 1,
        1 - ((e.clientY - box.top) / box.height) * 2,
      );
    };

    const down = (e: PointerEvent) => {
      if (e.button > 2) return;
      canvas.setPointerCapture(e.pointerId);
      const seen = cameraSeen();
      const slide = e.button !== 0 || e.shiftKey;
      grip = {
        kind: slide ? "slide" : "look",
        x: e.clientX,
        y: e.clientY,
        moved: false,
        camera: seen,
        pose: seen ? poseOf(seen, useMoment.getState().stage) : null,
        last: null,
      };
      if (useView.getState().through !== "rover" || slide) return;
      const found = hit(scene, eye, where(e));
      if (found && "handle" in found) {
        const piece = itemOf(useDocument.getState().scene, "pieces", found.handle);
        if (!piece) return;
        const far = eye.position.distanceTo(new Vector3(piece.x, piece.base + piece.height, piece.z));
        const perPixel = (2 * far * Math.tan(MathUtils.degToRad(eye.fov / 2))) / size.height;
        grip = { ...grip, kind: "height", piece: { id: piece.id, height: piece.height, perPixel } };
      }
    };

    const move = (e: PointerEvent) => {
      if (!grip) return;
      const dx = e.clientX - grip.x;
      const dy = e.clientY - grip.y;
      if (!grip.moved && Math.hypot(dx, dy) < CALM) return;
      if (!grip.moved && grip.camera) pause();
      grip.moved = true;
      if (grip.kind === "height" && grip.piece) {
        const height = Math.max(0.01, grip.piece.height - dy * grip.piece.perPixel);
        grip.last = Math.round(height * 100) / 100;
        tryOut({ kind: "piece.set", piece: grip.piece.id, height: grip.last }, useMoment.getState().stage);
        return;
      }
      if (useView.getState().through === "rover") {
        roam(grip, dx, dy, size.height);
        grip.x = e.clientX;
        grip.y = e.clientY;
        return;
      }
      if (!grip.camera || !grip.pose) return;
      const perPixel = eye.fov / size.height;
      const reach = 0.01;
      const pose =
        grip.kind === "look"
          ? turned(grip.pose, dx, dy, perPixel)
          : slid(grip.pose, -dx * reach, dy * reach, 0);
      grip.last = tidy(pose);
      tryPose(grip.camera, grip.last);
    };

    const up = async (e: PointerEvent) => {
      const held = grip;
      grip = null;
      if (!held) return;
      if (!held.moved) return click(e);
      if (held.kind === "height" && held.piece && typeof held.last === "number") {
        endTry();
        complain(await send({ kind: "piece.set", piece: held.piece.id, height: held.last }));
      } else if (held.camera && held.last && typeof held.last === "object")
        await leavePose(held.camera, held.last);
    };

    const click = (e: PointerEvent) => {
      if (e.button !== 0) return;
      if (useView.getState().picking) return void focusOn(pointedAt(scene, eye, where(e)));
      const found = hit(scene, eye, where(e));
      if (!found || "handle" in found) {
        if (!e.shiftKey) select(null);
      } else if (e.shiftKey) selectAlso(found.kind, found.id);
      else select(found.kind, [found.id]);
    };

    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { through, rover } = useView.getState();
      if (through === "rover") {
        const distance = MathUtils.clamp(rover.distance * Math.exp(e.deltaY * 0.0012), 0.4, 400);
        useView.setState({ rover: { ...rover, distance } });
        return;
      }
      const seen = cameraSeen();
      if (!seen) return;
      pause();
      const from = wheelPose?.camera === seen ? wheelPose.pose : poseOf(seen, useMoment.getState().stage);
      if (!from) return;
      const touched = tidy(slid(from, 0, 0, -e.deltaY * 0.003));
      wheelPose = { camera: seen, pose: { ...from, ...touched }, touched };
      tryPose(seen, touched);
      window.clearTimeout(wheelTimer);
      wheelTimer = window.setTimeout(() => {
        const done = wheelPose;
        wheelPose = null;
        if (done) void leavePose(done.camera, done.touched);
      }, 260);
    };

    const cancel = (e: Event) => e.preventDefault();
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("wheel", wheel, { passive: false });
    canvas.addEventListener("contextmenu", cancel);
    return () => {
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("wheel", wheel);
      canvas.removeEventListener("contextmenu", cancel);
    };
  }, [gl, camera, scene, size]);
  return null;
}

function roam(grip: Grip, dx: number, dy: number, high: number): void {
  const { rover } = useView.getState();
  if (grip.kind === "look") {
    const height = MathUtils.clamp(rover.height + dy * 0.3, -5, 89);
    useView.setState({ rover: { ...rover, bearing: rover.bearing - dx * 0.35, height } });
    return;
  }
  // The point it looks at moves with the hand, in the plane of the picture.
  const perPixel = (rover.distance * 0.65) / high;
  const b = MathUtils.degToRad(rover.bearing);
  const h = MathUtils.degToRad(rover.height);
  const right = -dx * perPixel;
  const up = dy * perPixel;
  useView.setState({
    rover: {
      ...rover,
      x: rover.x + Math.cos(b) * right - Math.sin(b) * Math.sin(h) * up,
      y: Math.max(rover.y + Math.cos(h) * up, 0),
      z: rover.z - Math.sin(b) * right - Math.cos(b) * Math.sin(h) * up,
    },
  });
}
