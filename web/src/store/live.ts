import { create } from "zustand";

/** A run that was cut live: where in the cut it began and ended, what was pressed and when, and how fast it played. */
export interface Run {
  start: number;
  to: number;
  presses: [number, string][];
  speed: number;
  /** When, for people. */
  when: string;
}

interface Live {
  /** The run that goes on, and the camera that the hand has chosen in it. */
  run: Run | null;
  camera: string | null;
  /** Those that were made, the newest first. */
  runs: Run[];
}

export const useLive = create<Live>(() => ({ run: null, camera: null, runs: [] }));
