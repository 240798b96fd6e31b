import type { Pose } from "../api/types";
import { type RoverPose, useView } from "./view";

const RADIANS = Math.PI / 180;

/** The rover looks through the same angle whatever is delivered, upright, in degrees. */
export const ROVER_ANGLE = 36;

/** Where the rover stands, metres. */
export function roverPlace(rover: RoverPose): { x: number; y: number; z: number } {
  const [b, h] = [rover.bearing * RADIANS, rover.height * RADIANS];
  const flat = Math.cos(h) * rover.distance;
  return {
    x: rover.x + Math.sin(b) * flat,
    y: rover.y + Math.sin(h) * rover.distance,
    z: rover.z + Math.cos(b) * flat,
  };
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
