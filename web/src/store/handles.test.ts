import { expect, test } from "vitest";
import type { Act, Figure } from "../api/types";
import { PARTS, poseInHand } from "./handles";

const act = (id: string, kind: string, first: number, last: number) =>
  ({ id, kind, frames: { first, last } }) as Act;
const figure = {
  acts: [act("w", "wave", 1001, 1100), act("p", "pose", 1010, 1050), act("q", "pose", 1040, 1090)],
} as Figure;

test("the selected pose is dragged, else the later one that is under way; outside of poses none is", () => {
  expect(poseInHand(figure, 1045, [])?.id).toBe("q");
  expect(poseInHand(figure, 1045, ["p"])?.id).toBe("p");
  // A wave that is selected is no pose, and a pose that is selected elsewhere in time is not under way.
  expect(poseInHand(figure, 1045, ["w"])?.id).toBe("q");
  expect(poseInHand(figure, 1080, ["p"])?.id).toBe("q");
  expect(poseInHand(figure, 1010, [])?.id).toBe("p");
  expect(poseInHand(figure, 1091, ["q"])).toBeUndefined();
});

test("each part is held by a joint of its own", () => {
  expect(new Set(PARTS.map(([, joint]) => joint)).size).toBe(PARTS.length);
  expect(PARTS.map(([part]) => part)).toContain("left_foot");
});
