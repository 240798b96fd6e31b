import { Euler, MathUtils, Matrix3, type PerspectiveCamera, Vector3 } from "three";
import type { Pose } from "../../api/types";
import type { Touched } from "../../store/unsaved";

/** A direction from the lens through a point of the picture, in the camera's own frame: right, up, back. */
export type Way = Vector3;

const { degToRad, radToDeg } = MathUtils;
const STEEPEST = 89.9;

/** A pose's turn: pan about world up, tilt about its right, roll about its axis. */
const turnOf = (p: Pose) => new Euler(degToRad(p.tilt), degToRad(p.pan), degToRad(p.roll), "YXZ");
const placeOf = (p: Pose) => new Vector3(p.x, p.y, p.z);

/** The way nearest to `was` that a full turn leads to. */
const near = (angle: number, was: number) => was + MathUtils.euclideanModulo(angle - was + 180, 360) - 180;

/** Look about: what lay in the way `held` lies in the way `now` afterwards. Place and roll stay. */
export function looked(from: Pose, held: Way, now: Way): Touched {
  const world = held.clone().normalize().applyEuler(turnOf(from));
  const own = now
    .clone()
    .normalize()
    .applyEuler(new Euler(0, 0, degToRad(from.roll)));
  // Tilt brings it to its height, then pan round to its bearing.
  const long = Math.hypot(own.y, own.z);
  const lean = Math.atan2(own.z, own.y);
  const open = Math.acos(MathUtils.clamp(world.y / Math.max(long, 1e-9), -1, 1));
  const tilts = [open - lean, -open - lean].map((t) => near(radToDeg(t), from.tilt));
  const best = Math.abs(tilts[0] - from.tilt) < Math.abs(tilts[1] - from.tilt) ? tilts[0] : tilts[1];
  const tilt = MathUtils.clamp(best, -STEEPEST, STEEPEST);
  own.applyEuler(new Euler(degToRad(tilt), 0, 0));
  const pan = radToDeg(Math.atan2(-world.x, -world.z) - Math.atan2(-own.x, -own.z));
  return { pan: near(pan, from.pan), tilt };
}

/** Truck and boom: the point held lies in the way `now` afterwards. Direction stays; so does its height, unless asked. */
export function slid(from: Pose, held: Vector3, now: Way, level = false): Touched {
  const place = placeOf(from);
  const ray = now.clone().applyEuler(turnOf(from));
  const right = new Vector3(1, 0, 0).applyEuler(new Euler(0, degToRad(from.pan), 0));
  // held = place + a·right + b·up + s·ray
  const m = new Matrix3().set(right.x, 0, ray.x, right.y, 1, ray.y, right.z, 0, ray.z);
  if (Math.abs(m.determinant()) < 1e-6) return {};
  const found = held.clone().sub(place).applyMatrix3(m.invert());
  const [x, z] = [place.x + found.x * right.x, place.z + found.x * right.z];
  return level ? { x, z } : { x, y: place.y + found.y, z };
}

/** Dolly: nearer the point held by a factor, which keeps it where it is in the picture. */
export function dollied(from: Pose, held: Vector3, factor: number): Touched {
  const place = placeOf(from).sub(held).multiplyScalar(factor).add(held);
  return { x: place.x, y: place.y, z: place.z };
}

/** Round the point held, keeping its distance and its place in the picture; degrees about up, and of height. */
export function rounded(from: Pose, held: Vector3, bearing: number, height: number): Touched {
  const tilt = MathUtils.clamp(from.tilt - height, -STEEPEST, STEEPEST);
  const arm = placeOf(from).sub(held);
  const level = new Euler(0, degToRad(from.pan), 0);
  const right = new Vector3(1, 0, 0).applyEuler(level);
  arm.applyAxisAngle(right, degToRad(tilt - from.tilt));
  arm.applyAxisAngle(new Vector3(0, 1, 0), degToRad(bearing));
  arm.add(held);
  return { x: arm.x, y: arm.y, z: arm.z, pan: from.pan + bearing, tilt };
}

/** A turn round what is watched without its direction: the camera's aim gives that. */
export const onlyPlace = ({ x, y, z }: Touched): Touched => ({ x, y, z });

/** The place in a way from the eye that is as deep as another: a hand moves the camera in step with its subject. */
export function alongside(eye: PerspectiveCamera, other: Vector3, way: Way): Vector3 {
  const deep = Math.max(-other.clone().applyMatrix4(eye.matrixWorldInverse).z, 0.1);
  return way
    .clone()
    .multiplyScalar(deep / Math.max(-way.z, 1e-6))
    .applyMatrix4(eye.matrixWorld);
}

/** Roll, so that the picture turns with the hand about its middle; the ways are those held and held now. */
export function rolled(from: Pose, held: Way, now: Way): Touched {
  const turn = radToDeg(Math.atan2(now.y, now.x) - Math.atan2(held.y, held.x));
  return { roll: near(from.roll - turn, from.roll) };
}

/** To a tenth of a millimetre and a ten-thousandth of a degree: what is stored reads as what was meant. */
export const tidy = (touched: Touched): Touched =>
  Object.fromEntries(Object.entries(touched).map(([k, v]) => [k, Math.round(v * 10_000) / 10_000]));
