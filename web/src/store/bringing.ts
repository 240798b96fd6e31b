import { create } from "zustand";
import type { Reading, Unit } from "../api/types";

/** A file that is being brought in: sent, read, looked at, and then put on the stage or only in the library. */
export interface Incoming {
  id: string;
  name: string;
  /** How much of it is sent, 0 to 1. */
  sent: number;
  /** Its key once it is sent, and those of the files it names. */
  source: string | null;
  along: Record<string, string>;
  reading: Reading | null;
  /** What was said of its unit, its axis, how light it is to be, and what it is meant as. */
  asked: {
    unit: Unit | null;
    up: "y" | "z" | null;
    lighter: boolean;
    map: Record<string, string>;
    /** It is meant as a set or a prop, its cameras alone, or a clip of it as motion. */
    rigid: boolean;
    cameras: boolean;
    motion: boolean;
    clip: string | null;
  };
  problem: { reason: string; remedy: string } | null;
  /** It is on the stage. */
  put: boolean;
  stop: AbortController;
}

interface Bringing {
  files: Incoming[];
  chosen: string | null;
  /** The piece of the set on which files were dropped in the picture, and where, metres. */
  onto: { piece: string; x: number; z: number } | null;
}

/** What is being brought in, and which of it is looked at. */
export const useBringing = create<Bringing>(() => ({ files: [], chosen: null, onto: null }));

/** Change one of the files that are being brought in. */
export function setIncoming(id: string, change: Partial<Incoming>): void {
  useBringing.setState(({ files }) => ({
    files: files.map((one) => (one.id === id ? { ...one, ...change } : one)),
  }));
}
