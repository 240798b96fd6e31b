import { expect, it } from "vitest";
import { channelsOf, keyedIn, keysOf } from "./keys";

const key = (frame: number, after = "eased") => ({ frame, value: 1, before: "eased", after });
const channel = (...keys: object[]) => ({ rest: 0, keys });

const THING = {
  id: "cam",
  name: "A",
  x: channel(key(10), key(20)),
  y: channel(key(20, "held")),
  focal: channel(key(15)),
  focus: { on: { kind: "pulled" }, distance: channel(key(20)), marks: [] },
  layers: [{ id: "sway", much: channel(key(30)) }, "not a layer"],
};

it("finds the keys of every channel, a layer's too, as one union in order of frame", () => {
  expect(channelsOf(THING).map(([name]) => name)).toEqual(["x", "y", "focal", "focus.distance", "sway.much"]);
  expect(keysOf(THING).map((k) => [k.frame, k.channels])).toEqual([
    [10, ["x"]],
    [15, ["focal"]],
    [20, ["x", "y", "focus.distance"]],
    [30, ["sway.much"]],
  ]);
});

it("says how curves come in and go out only where the channels agree", () => {
  const [, , both] = keysOf(THING);
  expect([both.before, both.after]).toEqual(["eased", null]);
});

it("sees a key on height alone", () => {
  const still = { x: channel(), y: channel(key(5)), z: channel() };
  expect(keysOf(still, ["x", "y", "z"]).map((k) => k.frame)).toEqual([5]);
  expect([keyedIn(still, ["x"]), keyedIn(still, ["x", "y"])]).toEqual([false, true]);
});
