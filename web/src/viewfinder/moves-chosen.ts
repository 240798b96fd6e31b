import { create } from "zustand";
import type { Does } from "../api/types";

type Move = Does<"camera.move">;
export type Turn = Extract<Move["what"], "swing onto" | "look as" | "straighten" | "upright">;
export type What = Exclude<Move["what"], Turn> | "turn" | "hold" | "jump";
export type Feel = NonNullable<Move["feel"]> | "overshoot";

/** What a camera can be told to do: how it is said, its unit and usual amount, and the words for either way. */
export const MOVES: {
  what: What;
  says: string;
  unit?: string;
  usual?: number;
  ways?: [string, string];
  of?: boolean;
}[] = [
  { what: "pan", says: "pan", unit: "°", usual: 20, ways: ["to the left", "to the right"] },
  { what: "tilt", says: "tilt", unit: "°", usual: 10, ways: ["up", "down"] },
  { what: "roll", says: "roll", unit: "°", usual: 5, ways: ["counter-clockwise", "clockwise"] },
  { what: "dolly", says: "dolly", unit: "m", usual: 1, ways: ["in", "out"] },
  { what: "truck", says: "truck", unit: "m", usual: 1, ways: ["to the right", "to the left"] },
  { what: "boom", says: "boom", unit: "m", usual: 0.5, ways: ["up", "down"] },
  { what: "zoom", says: "zoom", unit: "mm", usual: 10, ways: ["in", "out"] },
  { what: "arc", says: "go round", unit: "°", usual: 30, ways: ["to the right", "to the left"], of: true },
  { what: "close in", says: "close in on", unit: "m", usual: 0.5, ways: ["nearer", "farther"], of: true },
  {
    what: "dolly zoom",
    says: "dolly zoom on",
    unit: "mm",
    usual: 20,
    ways: ["lens in, camera back", "lens out, camera nearer"],
    of: true,
  },
  { what: "turn", says: "turn" },
  { what: "view", says: "go to a view" },
  { what: "jump", says: "cut to a view, by keys" },
  { what: "hold", says: "stand still" },
];

/** What was chosen last, kept while the panel is closed. */
interface Chosen {
  what: What;
  turn: Turn;
  amounts: Partial<Record<What, number>>;
  back: boolean;
  whom: string;
  where: string;
  by: string;
  begin: number | null;
  frames: number | null;
  timed: boolean;
  feel: Feel;
  over: number;
  settle: number;
  later: "stay" | "move";
  drift: { m: number; deg: number };
}

export const useChosen = create<Chosen>(() => ({
  what: "dolly",
  turn: "swing onto",
  amounts: {},
  back: false,
  whom: "",
  where: "",
  by: "",
  begin: null,
  frames: null,
  timed: true,
  feel: "soft",
  over: 5,
  settle: 7,
  later: "stay",
  drift: { m: 0, deg: 0 },
}));
export const choose = useChosen.setState;
