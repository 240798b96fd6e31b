import { create } from "zustand";
import { catalogue } from "../api/catalogue";
import type { Does } from "../api/types";

type Move = (typeof catalogue.moves)[number];
const of = (turns: boolean) => catalogue.moves.filter((move) => move.turns === turns);

/** Ways to turn: one choice among the moves, and then which. */
export const TURNS = of(true);
export type Turn = Move["what"];
export type What = Move["what"] | "turn" | "hold" | "jump";
export type Feel = NonNullable<Does<"camera.move">["feel"]> | "overshoot";

const plain = (what: What, says: string): Omit<Move, "what"> & { what: What } => ({
  ...{ what, says, unit: "", usual: 0, ways: ["", ""], of: false, turns: false, directions: false },
});

/** What a camera can be told to do: the core's moves, and commands of their own beside them. */
export const MOVES = [
  ...of(false),
  plain("turn", "turn"),
  plain("jump", "cut to a view, by keys"),
  plain("hold", "stand still"),
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
