import { create } from "zustand";
import type { Clock } from "./moment";

/** What a strip is asked to have in sight: some frames of its clock, or with null all of them; each asking is a turn. */
export const useFitted = create<{
  clock: Clock;
  frames: { first: number; last: number } | null;
  turn: number;
}>(() => ({ clock: "cut", frames: null, turn: 0 }));

export function fitStrip(clock: Clock, frames: { first: number; last: number } | null): void {
  useFitted.setState((s) => ({ clock, frames, turn: s.turn + 1 }));
}
