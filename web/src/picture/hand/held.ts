import {
  type Object3D,
  type PerspectiveCamera,
  Raycaster,
  type SkinnedMesh,
  type Vector2,
  Vector3,
} from "three";
import { useDocument } from "../../store/document";
import type { Part } from "../../store/handles";
import { useMoment } from "../../store/moment";
import { cameraColumns, rowOf } from "../../store/samples";
import { cameraRow } from "../../store/unsaved";
import { cameraSeen, canPick, type Kind, useView } from "../../store/view";
import { ownerOf } from "../pointed-at";
import { OVER } from "../renderer/renderer";
import { MARKS } from "../sight";
import type { Way } from "./moves";

/** Kinds of piece that are walked on or stand behind: looked past, unless they are selected. */
const GROUND = new Set(["platform", "ramp", "wall", "backdrop"]);

/** The way through a place of the picture (−1 to 1, up), in the eye's own frame. */
export function wayOf(eye: PerspectiveCamera, at: Vector2): Way {
  return new Vector3(at.x, at.y, 0.5).applyMatrix4(eye.projectionMatrixInverse);
}

/** What a press in the picture meets first: a body, or a handle of one. */
export function bodyAt(
  root: Object3D,
  eye: PerspectiveCamera,
  at: Vector2,
  /** Whatever the switches for picking say. */
  any = false,
): { kind: Kind; id: string; at: Vector3 } | { handle: { id: string; part?: Part }; at: Vector3 } | null {
  const ray = new Raycaster();
  ray.layers.enable(MARKS);
  ray.layers.enable(OVER);
  ray.setFromCamera(at, eye);
  const targets: Object3D[] = [];
  root.traverse((node) => {
    const kind = node.userData.pick?.kind as Kind | undefined;
    if ((kind && (any || canPick(kind))) || node.userData.handle) targets.push(node);
  });
  const found = ray.intersectObjects(targets, false);
  const handle = found.find((f) => f.object.userData.handle);
  if (handle)
    return { handle: handle.object.userData.handle, at: handle.object.getWorldPosition(new Vector3()) };
  const first = found[0];
  if (!first) return null;
  const { kind, ids } = first.object.userData.pick;
  const id = ids[first.instanceId ?? 0];
  return !any && isLocked(kind, id) && !useView.getState().pickable.locked
    ? null
    : { kind, id, at: first.point };
}

function isLocked(kind: Kind, id: string): boolean {
  const scene = useDocument.getState().scene;
  const all = kind === "camera" ? scene?.cameras : kind === "piece" ? scene?.pieces : undefined;
  return all?.find((item) => item.id === id)?.locked ?? false;
}

/** Whether a drag on something in the rover's picture carries it. */
export function carries(kind: Kind, id: string): boolean {
  const chosen = useView.getState();
  if (chosen.kind === kind && chosen.ids.includes(id)) return true;
  const piece = kind === "piece" && useDocument.getState().scene?.pieces.find((p) => p.id === id);
  return !(piece && GROUND.has(piece.kind));
}

/** The place on the stage under a point of the picture: on what is there, else as far as the focus, else as the nearest figure. */
export function heldPoint(root: Object3D, eye: PerspectiveCamera, at: Vector2): Vector3 {
  const ray = new Raycaster();
  ray.setFromCamera(at, eye);
  ray.near = eye.near;
  ray.far = Math.min(eye.far, 120);
  const targets: Object3D[] = [];
  root.traverse((node) => {
    const mesh = node as SkinnedMesh;
    if (!mesh.isMesh || !node.visible || node.userData.handle) return;
    const there = node.userData.focus || node.userData.pick || ownerOf(node);
    if (there) targets.push(node);
    // It was measured in another pose.
    if (there && mesh.isSkinnedMesh) mesh.computeBoundingSphere();
  });
  const hit = ray.intersectObjects(targets, false)[0];
  if (hit) return hit.point.clone();
  const axis = eye.getWorldDirection(new Vector3());
  return ray.ray.at(usualDepth(eye, axis) / Math.max(ray.ray.direction.dot(axis), 1e-3), new Vector3());
}

/** How far along the axis a hand works when it holds nothing: the focus, else the nearest figure ahead, metres. */
function usualDepth(eye: PerspectiveCamera, axis: Vector3): number {
  const stage = useMoment.getState().stage;
  const seen = cameraSeen();
  const row = seen ? cameraRow(seen, stage) : null;
  const per = row ? row[cameraColumns().focus_per_m] : 0;
  if (per > 1e-3) return 1 / per;
  const ahead = (useDocument.getState().shown?.figures ?? [])
    .map((f) => rowOf(f.id, stage))
    .flatMap((r) => (r ? [new Vector3(r[0], r[1] + 1, r[2]).sub(eye.position).dot(axis)] : []))
    .filter((far) => far > 0.2);
  return ahead.length ? Math.min(...ahead) : seen ? 5 : useView.getState().rover.distance;
}
