import { create } from "zustand";
import type { Sound } from "../api/types";

export type SoundLane = Sound["lane"];
const ALL: SoundLane[] = ["lines", "effects", "bed", "music"];

/** Lanes of sound that are silenced at this desk, those that alone are heard, and a line that is recorded just now. */
export const useHeard = create<{ muted: SoundLane[]; solo: SoundLane[]; without: string | null }>(() => ({
  muted: [],
  solo: [],
  without: null,
}));

/** Have a line not be heard, while it is recorded. */
export const withoutLine = (without: string | null): void => useHeard.setState({ without });

export function switchLane(which: "muted" | "solo", lane: SoundLane): void {
  useHeard.setState((s) => ({
    [which]: s[which].includes(lane) ? s[which].filter((one) => one !== lane) : [...s[which], lane],
  }));
}

/** The lanes that are heard; null, all of them. */
export function lanesHeard(): SoundLane[] | null {
  const { muted, solo } = useHeard.getState();
  const heard = ALL.filter((lane) => (solo.length ? solo.includes(lane) : !muted.includes(lane)));
  return heard.length === ALL.length ? null : heard;
}
