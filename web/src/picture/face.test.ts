import { Bone, type SkinnedMesh, Vector3 } from "three";
import { expect, it } from "vitest";
import vectors from "../../../tests/vectors/faces.json";
import { poseFace, shapeFace } from "./face";

/** Made by the core's tests, which hold the core to the same. */
const { joints, faces, shapes } = vectors as unknown as {
  joints: { at: number[]; face: object }[];
  faces: { numbers: number[]; places: number[][]; turns: number[][]; shares: number[] }[];
  shapes: [number, number, boolean][];
};

it.each(faces.map((face, i) => [i, face] as const))("a face is drawn as the core poses it, %i", (_, face) => {
  for (const [i, joint] of joints.entries()) {
    const bone = new Bone();
    bone.userData.face = joint.face;
    poseFace(bone, new Vector3().fromArray(joint.at), [0, 0, ...face.numbers], 2);
    const found = [...bone.position.toArray(), ...bone.quaternion.toArray()];
    for (const [k, value] of [...face.places[i], ...face.turns[i]].entries())
      expect(found[k]).toBeCloseTo(value, 6);
  }
  const skin = { userData: { face: shapes }, morphTargetInfluences: shapes.map(() => 9) };
  shapeFace(skin as unknown as SkinnedMesh, [0, 0, ...face.numbers], 2);
  for (const [i, share] of face.shares.entries()) expect(skin.morphTargetInfluences[i]).toBeCloseTo(share, 6);
});
