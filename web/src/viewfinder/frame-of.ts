import { MathUtils, type PerspectiveCamera, Vector3 } from "three";
import type { Pose } from "../api/types";
import { type RoverPose, useView } from "../store/view";

/** The rover looks through the same angle whatever is delivered, upright, in degrees. */
export const ROVER_ANGLE = 36;

export function roverPlace(rover: RoverPose, into = new Vector3()): Vector3 {
  const b = MathUtils.degToRad(rover.bearing);
  const h = MathUtils.degToRad(rover.height);
  const flat = Math.cos(h) * rover.distance;
  return into.set(
    rover.x + Math.sin(b) * flat,
    rover.y + Math.sin(h) * rover.distance,
    rover.z + Math.cos(b) * flat,
  );
}

/** Where the rover stands, level, as a pose for a new camera. */
export function roverPose(): Pose {
  const { rover } = useView.getState();
  const at = roverPlace(rover);
  const tidy = (n: number) => Math.round(n * 1000) / 1000;
  return {
    x: tidy(at.x),
    y: tidy(Math.max(at.y, 0.1)),
    z: tidy(at.z),
    pan: tidy(rover.bearing),
    tilt: 0,
    roll: 0,
  };
}

export function turnTo(camera: PerspectiveCamera, pan: number, tilt: number, roll: number): void {
  camera.rotation.set(MathUtils.degToRad(tilt), MathUtils.degToRad(pan), MathUtils.degToRad(roll), "YXZ");
}
