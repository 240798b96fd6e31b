import { expect, it } from "vitest";
import { laidOut, type Rect } from "./layout";

const room = { width: 668, height: 390 };
const over = (a: Rect, b: Rect) =>
  a.left < b.left + b.width &&
  b.left < a.left + a.width &&
  a.top < b.top + b.height &&
  b.top < a.top + a.height;
const inside = (r: Rect) =>
  r.left >= 0 && r.top >= 0 && r.left + r.width <= room.width && r.top + r.height <= room.height;

it.each([
  [16 / 9, false],
  [2.39, false],
  [9 / 16, false],
  [16 / 9, true],
  [9 / 16, true],
])("a frame of %f and the small picture lie apart and inside (beside: %s)", (aspect, beside) => {
  const { main, inset } = laidOut({ room, aspect, inset: { aspect: 16 / 9, width: 168, beside } });
  expect(inset && !over(main, inset)).toBe(true);
  expect(inside(main) && inside(inset as Rect)).toBe(true);
  expect(main.width / main.height).toBeCloseTo(aspect, 1);
  // As large as it can be beside the small one.
  expect(main.height).toBeGreaterThan(beside ? 150 : 240);
});

it("the frame has all the room when nothing is beside it, and the rover's picture always", () => {
  expect(laidOut({ room, aspect: 16 / 9, inset: null }).main).toMatchObject({ width: 648, left: 10 });
  const { main } = laidOut({ room, aspect: null, inset: { aspect: 2.39, width: 168, beside: false } });
  expect(main).toEqual({ left: 0, top: 0, ...room });
});
