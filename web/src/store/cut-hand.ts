import { create } from "zustand";

interface Saying {
  /** What is said beside the hand, at a frame of the cut. */
  said: { text: string; stopped: boolean; at: number } | null;
  /** The keyboard is on a cut. */
  joint: boolean;
}

/** What goes on while a hand or the keyboard is on the cut. */
export const useSaid = create<Saying>(() => ({ said: null, joint: false }));
