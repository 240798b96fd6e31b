import { type Bone, type SkinnedMesh, Vector3 } from "three";

/** How the numbers of a face move and turn a joint of it, as its shape says: [number, part of it, by…]. */
export interface FaceRig {
  moves?: number[][];
  turns?: number[][];
  axis: [number, number, number];
  left: boolean;
}

/** The last number of a face says how much less its left half follows. */
const SIDE = 9;
const AXIS = new Vector3();

export const faceOf = (bone: Bone) => bone.userData.face as FaceRig | undefined;

/** One of a face's numbers, all of it, or only above (1) or below (−1) 0. */
function numberOf(row: ArrayLike<number>, first: number, which: number, part: number, left: boolean): number {
  const all = row[first + which] * (left ? 1 - row[first + SIDE] : 1);
  return part === 0 ? all : part > 0 ? Math.max(all, 0) : Math.min(all, 0);
}

/** Let the shapes of a skin follow a face, as its file says: the number, part of it, and whether it is of the left. */
export function shapeFace(mesh: SkinnedMesh, row: ArrayLike<number>, first: number): void {
  const face = mesh.userData.face as [number, number, boolean][] | undefined;
  face?.forEach(([which, part, left], i) => {
    if (mesh.morphTargetInfluences)
      mesh.morphTargetInfluences[i] = Math.abs(numberOf(row, first, which, part, left));
  });
}

/** Move and turn a joint of a face from where it rests, by the numbers that begin at a place in a row. */
export function poseFace(bone: Bone, rest: Vector3, row: ArrayLike<number>, first: number): void {
  const { moves = [], turns = [], axis, left } = faceOf(bone) as FaceRig;
  const value = ([which, part]: number[]) => numberOf(row, first, which, part, left);
  bone.position.copy(rest);
  for (const move of moves) bone.position.addScaledVector(AXIS.fromArray(move, 2), value(move));
  const degrees = turns.reduce((sum, turn) => sum + value(turn) * turn[2], 0);
  bone.quaternion.setFromAxisAngle(AXIS.fromArray(axis), (degrees * Math.PI) / 180);
}
