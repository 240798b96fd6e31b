import { Bone, Vector3 } from "three";
import { expect, it } from "vitest";
import vectors from "../../../tests/vectors/faces.json";
import { poseFace } from "./face";

/** Made by the core's tests, which hold the core to the same. */
const { joints, faces } = vectors as unknown as {
  joints: { at: number[]; face: object }[];
  faces: { numbers: number[]; places: number[][]; turns: number[][] }[];
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
});
