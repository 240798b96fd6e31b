import { create } from "zustand";

/** A run that was cut live: where in the cut it began and ended, what was pressed and when, and how fast it played. */
export interface Run {
  start: number;
  /** Left out, to the end of the cut. */
  to: number | null;
  presses: [number, string][];
  speed: number;
}

interface Live {
  /** The run that goes on, and the camera that the hand has chosen in it. */
  run: Run | null;
  camera: string | null;
  /** The last one, where it could not be laid over the cut: it is in no history then. */
  refused: Run | null;
}

export const useLive = create<Live>(() => ({ run: null, camera: null, refused: null }));
