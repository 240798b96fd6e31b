import { expect, it } from "vitest";
import { roverPlace, roverTo } from "./rover";

const POSE = { x: 3, y: 1.7, z: -4, pan: 30, tilt: -10, roll: 0 };

it("stands where its pose is, whatever lies so far ahead of it", () => {
  for (const distance of [0.5, 6, 40]) {
    const place = roverPlace(roverTo(POSE, distance));
    expect(place.x).toBeCloseTo(3, 9);
    expect(place.y).toBeCloseTo(1.7, 9);
    expect(place.z).toBeCloseTo(-4, 9);
  }
});

it("looks towards −Z at pan 0, and to −X a quarter turn to the left", () => {
  const ahead = roverTo({ ...POSE, x: 0, y: 1, z: 0, pan: 0, tilt: 0 }, 5);
  expect(ahead.z).toBeCloseTo(-5, 9);
  const left = roverTo({ ...POSE, x: 0, y: 1, z: 0, pan: 90, tilt: 0 }, 5);
  expect(left.x).toBeCloseTo(-5, 9);
});

it("never stands under the floor, and looks no further up than it can", () => {
  const low = roverTo({ ...POSE, y: -2, tilt: 89 }, 5);
  expect(roverPlace(low).y).toBeGreaterThanOrEqual(0);
  expect(low.height).toBe(-80);
});
