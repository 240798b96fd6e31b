import { expect, it } from "vitest";
import type { Channel } from "../api/types";
import { countPicked, pickedAfter, pickedKeys, roomy } from "./picked";

const channel = (...frames: number[]): Channel =>
  ({ rest: 0, keys: frames.map((frame) => ({ frame, value: 0 })) }) as unknown as Channel;

it("names picked keys as runs of neighbours, channel by channel", () => {
  const channels = { x: channel(1, 5, 9, 12), y: channel(5) };
  expect(pickedKeys("cam", channels, { x: [12, 1, 5], y: [5] })).toEqual([
    { thing: "cam", channel: "x", frame: 1, last: 5 },
    { thing: "cam", channel: "x", frame: 12, last: 12 },
    { thing: "cam", channel: "y", frame: 5, last: 5 },
  ]);
  expect(countPicked({ x: [12, 1, 5], y: [5] })).toBe(4);
});

it("names nothing that is not there any more", () => {
  expect(pickedKeys("cam", { x: channel(1) }, { x: [2], gone: [4] })).toEqual([]);
});

it("keeps picked what an edit made of what was picked", () => {
  const before = { x: channel(1, 5, 9), y: channel(3) };
  // Moved by two frames, one key of x stays picked where it is now; y is the same channel.
  const after = { x: channel(1, 7, 9), y: before.y };
  expect(pickedAfter({ x: [5], y: [3] }, before, after)).toEqual({ x: [7], y: [3] });
  expect(pickedAfter({ x: [5] }, before, { x: channel(1, 9) })).toEqual({ x: [] });
});

it("leaves room round a curve, and some round a level one", () => {
  const { low, high } = roomy(0, 10, "metres");
  expect(low).toBeLessThan(0);
  expect(high).toBeGreaterThan(10);
  expect(low + high).toBe(10);
  const flat = roomy(2, 2, "degrees");
  expect(flat.high - flat.low).toBe(0.5);
});
