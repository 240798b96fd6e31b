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

/** The rover at a pose, level; the place it looks at lies so far ahead of it. */
export function roverTo(pose: Pose, distance: number): RoverPose {
  const height = Math.min(Math.max(-pose.tilt, -80), 89);
  const [b, h] = [pose.pan * RADIANS, height * RADIANS];
  const flat = Math.cos(h) * distance;
  return {
    // It may look up, but never from under the floor.
    x: pose.x - Math.sin(b) * flat,
    y: Math.max(pose.y, 0.05) - Math.sin(h) * distance,
    z: pose.z - Math.cos(b) * flat,
    bearing: pose.pan,
    height,
    distance,
  };
}

/** Where the rover stands and looks, as a pose for a new camera. */
export function roverPose(): Pose {
  const { rover } = useView.getState();
  const at = roverPlace(rover);
  const tidy = (n: number) => Math.round(n * 1000) / 1000;
  return {
    x: tidy(at.x),
    y: tidy(Math.max(at.y, 0.1)),
    z: tidy(at.z),
    pan: tidy(rover.bearing),
    tilt: tidy(-rover.height),
    roll: 0,
  };
}
