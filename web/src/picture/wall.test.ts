import { afterEach, expect, it } from "vitest";
import type { Scene } from "../api/types";
import { usePreferences } from "../store/preferences";
import { useView } from "../store/view";
import { onWall, useWallFound, wallBoxes } from "./wall";

const scene = {
  cameras: [{ id: "a" }, { id: "b" }, { id: "c" }],
  shots: [
    { id: "1", camera: "b" },
    { id: "2", camera: null },
  ],
} as unknown as Scene;
const shown = () => onWall(scene).map((one) => one.id);

afterEach(() => {
  usePreferences.setState({ wallOf: "all" });
  useView.setState({ kind: null, ids: [], held: [] });
  useWallFound.setState({ ids: null });
});

it("shows the cameras that are asked for, and all of them rather than none", () => {
  expect(shown()).toEqual(["a", "b", "c"]);
  usePreferences.setState({ wallOf: "cut" });
  expect(shown()).toEqual(["b"]);
  usePreferences.setState({ wallOf: "shot" });
  expect(shown()).toEqual(["a", "b", "c"]);
  useWallFound.setState({ ids: ["c"] });
  expect(shown()).toEqual(["c"]);
  usePreferences.setState({ wallOf: "chosen" });
  useView.setState({ kind: "camera", ids: ["a", "c"] });
  expect(shown()).toEqual(["a", "c"]);
});

it("holds two beside each other whatever else is asked for, in the order they were pressed", () => {
  usePreferences.setState({ wallOf: "cut" });
  useView.setState({ held: ["c", "a"] });
  expect(shown()).toEqual(["c", "a"]);
});

it("lays pictures in as many columns as make them largest, or as asked for", () => {
  // By hand: four of 320 × 180 in 1,320 pixels, 8 apart; under each 24 pixels for words.
  const [one, two] = wallBoxes(2, 16 / 9, 1320, 800, 4) as [number, number, number, number][];
  expect([one[0] * 1320, one[2] * 1320, one[3] * 800].map(Math.round)).toEqual([8, 320, 180]);
  expect(Math.round((two[0] - one[0]) * 1320)).toBe(328);
  expect(Math.round((1 - one[1] - one[3]) * 800)).toBe(8);
  // Two squares in a wide room stand side by side, in a tall one over each other.
  const across = wallBoxes(2, 1, 800, 300, 0).map((box) => box?.[1]);
  const upright = wallBoxes(2, 1, 300, 800, 0).map((box) => box?.[0]);
  expect(across[0]).toBe(across[1]);
  expect(upright[0]).toBe(upright[1]);
});

it("leaves out rows that do not fit, from the row on that is asked for", () => {
  const rows = (row: number) => wallBoxes(6, 1, 216, 340, 2, row).map((box) => box !== null);
  // Pictures of 96 pixels and 32 for words and room: two rows of three fit into 340.
  expect(rows(0)).toEqual([true, true, true, true, false, false]);
  expect(rows(1)).toEqual([false, false, true, true, true, true]);
});
