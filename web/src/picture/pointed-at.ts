import {
  type Bone,
  type Mesh,
  type Object3D,
  type PerspectiveCamera,
  Raycaster,
  type SkinnedMesh,
  type Vector2,
  Vector3,
} from "three";
import type { Pointed } from "../api/types";
import { useMoment } from "../store/moment";
import { poseStage } from "./renderer/posing";

const SPOT = new Vector3();
/** A part of a body is meant only where the picture holds no more than this from top to bottom, metres. */
const JOINT_WITHIN = 0.8;
/** Joints of the head: whoever points at a head means the eyes. */
const HEAD = new Set(["head", "neck", "eye_r", "eye_l"]);

/** What is under a point of the picture, as something to focus on; the sky is infinity. */
export function pointedAt(root: Object3D, eye: PerspectiveCamera, at: Vector2, joint = false): Pointed {
  const ray = new Raycaster();
  ray.setFromCamera(at, eye);
  ray.near = eye.near;
  ray.far = eye.far;
  // The moment may have changed since the last drawing.
  if (poseStage(useMoment.getState().stage, false)) root.updateMatrixWorld();
  const targets: Object3D[] = [];
  root.traverse((node) => {
    const mesh = node as SkinnedMesh;
    if (!mesh.isMesh || !node.visible || node.userData.handle) return;
    if (node.userData.focus || node.userData.pick?.kind === "piece" || ownerOf(node)) targets.push(node);
    // It was measured in another pose.
    if (mesh.isSkinnedMesh) mesh.computeBoundingSphere();
  });
  const hit = ray.intersectObjects(targets, false)[0];
  if (!hit) return { kind: "distance", metres: null };
  const owner = ownerOf(hit.object);
  if (owner?.kind === "mover") return { kind: "mover", mover: owner.id };
  if (owner?.kind === "figure") {
    // How much of the stage the picture holds from top to bottom where the body is.
    const high = 2 * hit.distance * Math.tan((eye.fov * Math.PI) / 360);
    const named = joint || high < JOINT_WITHIN ? nearestJoint(hit.object, hit.point) : "eyes";
    return { kind: "figure", figure: owner.id, joint: named };
  }
  const piece = hit.object.userData.pick?.ids[hit.instanceId ?? 0];
  const place = { x: round(hit.point.x), y: round(hit.point.y), z: round(hit.point.z) };
  return piece ? { kind: "piece_at", piece, ...place } : { kind: "point", ...place, of: "the ground" };
}

const round = (n: number) => Math.round(n * 1000) / 1000;

/** What a drawn shape is part of. */
export function ownerOf(node: Object3D): { kind: string; id: string } | null {
  for (let at: Object3D | null = node; at; at = at.parent) if (at.userData.owner) return at.userData.owner;
  return null;
}

function nearestJoint(object: Object3D, point: Vector3): string {
  const bones: Bone[] = (object as Mesh as SkinnedMesh).skeleton?.bones ?? [];
  let best = "head";
  let least = Number.POSITIVE_INFINITY;
  // A collar bone is nothing that anybody points at.
  for (const bone of bones.filter(({ name }) => !name.startsWith("clavicle"))) {
    const far = bone.getWorldPosition(SPOT).distanceTo(point);
    if (far < least) [best, least] = [bone.name, far];
  }
  return HEAD.has(best) ? "eyes" : best;
}
