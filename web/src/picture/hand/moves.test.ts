import { Euler, MathUtils, PerspectiveCamera, Vector3 } from "three";
import { expect, it } from "vitest";
import { POSE, type Pose } from "../../api/types";
import type { Touched } from "../../store/unsaved";
import { dollied, looked, rolled, rounded, slid } from "./moves";

const FROM: Pose = { x: 2, y: 1.6, z: 5, pan: 20, tilt: -12, roll: 7 };
const HELD = new Vector3(0.5, 0.8, -3);

/** Where three.js's own camera sees a point, in frames from the middle. */
function seen(pose: Pose, point: Vector3): [number, number] {
  const eye = new PerspectiveCamera(35, 16 / 9, 0.1, 1000);
  eye.position.set(pose.x, pose.y, pose.z);
  const [tilt, pan, roll] = [pose.tilt, pose.pan, pose.roll].map(MathUtils.degToRad);
  eye.rotation.copy(new Euler(tilt, pan, roll, "YXZ"));
  eye.updateMatrixWorld();
  const { x, y } = point.clone().project(eye);
  return [x, y];
}

/** The way through a place of the picture, in the camera's own frame. */
function way([x, y]: [number, number]): Vector3 {
  const up = Math.tan(MathUtils.degToRad(35 / 2));
  return new Vector3((x * up * 16) / 9, y * up, -1);
}

/** Where it is in the picture, what is held was before. */
function stays(now: Pose): void {
  const [was, is] = [seen(FROM, HELD), seen(now, HELD)];
  expect(is[0]).toBeCloseTo(was[0], 9);
  expect(is[1]).toBeCloseTo(was[1], 9);
}

const moved = (touched: Touched): Pose => ({ ...FROM, ...touched });
const kept = (touched: Touched) => POSE.filter((name) => !(name in touched));

it.each([
  ["looking", ["x", "y", "z", "roll"], (at: Vector3) => looked(FROM, way(seen(FROM, HELD)), at)],
  ["sliding", ["pan", "tilt", "roll"], (at: Vector3) => slid(FROM, HELD, at)],
] as const)("%s brings what is held where the hand is, and leaves the rest alone", (_, rest, move) => {
  for (const to of [
    [0.6, 0.4],
    [-0.9, -0.7],
    [0, 0.95],
  ] as [number, number][]) {
    const touched = move(way(to));
    const [x, y] = seen(moved(touched), HELD);
    expect(x).toBeCloseTo(to[0], 9);
    expect(y).toBeCloseTo(to[1], 9);
    expect(kept(touched)).toEqual(rest);
  }
});

it("going round keeps the distance and the place in the picture", () => {
  const now = moved(rounded(FROM, HELD, 70, 25));
  expect(new Vector3(now.x, now.y, now.z).distanceTo(HELD)).toBeCloseTo(
    new Vector3(FROM.x, FROM.y, FROM.z).distanceTo(HELD),
    9,
  );
  stays(now);
  expect(now.pan).toBe(90);
  expect(now.roll).toBe(FROM.roll);
});

it("going nearer halves the distance and keeps the place in the picture", () => {
  const now = moved(dollied(FROM, HELD, 0.5));
  expect(new Vector3(now.x, now.y, now.z).distanceTo(HELD)).toBeCloseTo(
    new Vector3(FROM.x, FROM.y, FROM.z).distanceTo(HELD) / 2,
    9,
  );
  stays(now);
});

it("a roll turns the picture with the hand", () => {
  // A point of the sky at the right of the middle, pulled upwards, goes up.
  const far = new Vector3(0, 0, -1e6).applyEuler(new Euler(-0.2, 0.3, 0, "YXZ"));
  const was = seen(FROM, far);
  const now = seen(moved(rolled(FROM, way([0.5, 0]), way([0.5, 0.2]))), far);
  const turn = (p: number[]) => Math.atan2(p[1] / (16 / 9), p[0]);
  expect(Math.hypot(now[0] * (16 / 9), now[1])).toBeCloseTo(Math.hypot(was[0] * (16 / 9), was[1]), 3);
  expect(turn([now[0], now[1]])).toBeGreaterThan(turn([was[0], was[1]]));
});

it("a level slide keeps its height", () => {
  expect(slid(FROM, HELD, way([0.3, 0.5]), true)).not.toHaveProperty("y");
});
