import { beforeEach, expect, it } from "vitest";
import type { CutTable } from "../api/types";
import { otherNow, useAgainst } from "./against";
import { type Overlay, useDocument } from "./document";
import { useMoment } from "./moment";

/** Another cut: black on 0 and 1, then shot x on stage 101 to 104, then y, whose camera is gone, on 105. */
const TABLE = {
  length: 7,
  first: 100,
  shots: [
    { id: "x", name: "010", camera: "cam", cut_first: 2, cut_last: 5 },
    { id: "y", name: "020", camera: null, cut_first: 6, cut_last: 6 },
  ],
  shot: Int32Array.from([-1, -1, 0, 0, 0, 0, 1]),
  stage: Int32Array.from([-1, -1, 101, 102, 103, 104, 105]),
  firstCut: Int32Array.from([-1, 2, 3, 4, 5, 6]),
} as unknown as CutTable;

const held = (by: "cut" | "action" | "shot") =>
  useAgainst.setState({ held: { name: "Other", table: TABLE, by } });
const at = (cut: number, stage: number, shot = 0, gap = false) =>
  useMoment.setState({ cut, stage, shot, gap });

beforeEach(() => {
  // In this cut shot x begins on frame 10 and lasts to 19.
  const placed = [{ id: "x", cut_first: 10, cut_last: 19 }];
  useDocument.setState({ overlay: { placed } as unknown as Overlay });
});

it("goes by the frame of the cut", () => {
  held("cut");
  at(3, 999);
  expect(otherNow()).toEqual({ shot: "x", name: "010", camera: "cam", stage: 102 });
  for (const cut of [1, 6, 7]) {
    at(cut, 999);
    expect(otherNow()).toBeNull();
  }
});

it("goes by the moment of the action", () => {
  held("action");
  at(0, 104);
  expect(otherNow()?.stage).toBe(104);
  at(3, 100);
  expect(otherNow()).toBeNull();
});

it("goes by how far each is into the same shot, as long as the other lasts", () => {
  held("shot");
  at(12, 999);
  expect(otherNow()?.stage).toBe(103);
  at(14, 999);
  expect(otherNow()).toBeNull();
  at(12, 999, 0, true);
  expect(otherNow()).toBeNull();
});
