import { expect, test } from "vitest";
import { ACTIONS as ALL } from "./actions";
import { fits, found } from "./found";
import { GROUPS, KNOWN, meant } from "./synonyms";

const ACTIONS = [
  "Move the camera: dolly",
  "Move the camera: boom",
  "Point at what to rack to",
  "Trim the selected shot: its end a frame later",
  "Make a camera from this view",
].map((does) => ({ does }));

// The words that people in this trade say first: common practice.
test.each([
  ["push in", "Move the camera: dolly"],
  ["crane", "Move the camera: boom"],
  ["pull focus", "Point at what to rack to"],
  ["ripple", "Trim the selected shot: its end a frame later"],
  ["trim", "Trim the selected shot: its end a frame later"],
  ["new camera", "Make a camera from this view"],
])("%s finds %s", (typed, does) => {
  expect(found(ACTIONS, typed)[0]?.does).toBe(does);
});

test("a hundred and fifty words are known, and nonsense finds nothing", () => {
  expect(KNOWN).toBeGreaterThanOrEqual(150);
  expect(meant("qzx")).toEqual([]);
  expect(found(ACTIONS, "qzx")).toEqual([]);
});

test("every group stands for an action that is there", () => {
  expect(GROUPS.map(([means]) => means).filter((means) => !ALL.some((a) => fits(a.does, means)))).toEqual([]);
});
