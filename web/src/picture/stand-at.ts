import { MathUtils, type Object3D } from "three";

type Places = Record<"x" | "y" | "z" | "pan" | "tilt" | "roll", number>;

/** Stand something where a row of samples has it. */
export function standAt(thing: Object3D, row: ArrayLike<number>, of: Places): void {
  thing.position.set(row[of.x], row[of.y], row[of.z]);
  const [tilt, pan, roll] = [row[of.tilt], row[of.pan], row[of.roll]].map(MathUtils.degToRad);
  thing.rotation.set(tilt, pan, roll, "YXZ");
  thing.updateMatrixWorld();
}
