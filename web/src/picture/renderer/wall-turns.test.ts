import { afterEach, expect, it, vi } from "vitest";
import type { Sight } from "../sight";
import { useWallPace } from "../wall";
import { WallTurns } from "./wall-turns";

vi.mock("../../store/moment", () => ({ rate: () => 25 }));

const ALL = Array.from({ length: 10 }, (_, i) => ({ blades: i }) as Sight);
let clock = 0;
afterEach(() => vi.restoreAllMocks());

/** What is drawn at so many moments, so far apart. */
function played(turns: WallTurns, ms: number, times: number): number[][] {
  vi.spyOn(performance, "now").mockImplementation(() => clock);
  return Array.from({ length: times }, () => {
    clock += ms;
    return turns.next(ALL, "wall").map((sight) => sight.blades);
  });
}

it("draws all while there is time for all", () => {
  expect(played(new WallTurns(), 40, 5).every((some) => some.length === 10)).toBe(true);
});

it("never leaves out what is on air, and no other for longer than it says", () => {
  const turns = new WallTurns();
  // Three times as slow as it plays: a third of the nine others at a time.
  const [first, second, ...rest] = [
    ...played(turns, 40, 1),
    ...played(turns, 120, 1),
    ...played(turns, 40, 9),
  ];
  expect([first.length, second.length]).toEqual([10, 4]);
  expect(useWallPace.getState().every).toBe(3);
  expect(rest.every((some) => some[0] === 0)).toBe(true);
  for (let i = 0; i + 3 <= rest.length; i++)
    expect(new Set(rest.slice(i, i + 3).flat())).toEqual(new Set([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]));
  // With time again there are more of them again.
  expect(played(turns, 40, 40).at(-1)?.length).toBeGreaterThan(4);
});
