import { create } from "zustand";

/** A line that is being recorded: how many are still counted, or none once it is said. */
export const useVoice = create<{ line: string | null; count: number }>(() => ({ line: null, count: 0 }));

let end: (keep: boolean) => void = () => {};

/** Whoever records says what ends it. */
export function endsBy(ends: typeof end): void {
  end = ends;
}

/** End the recording: keep what was said, or let it go. */
export const endRecording = (keep: boolean): void => end(keep);
