import type { Mover, Piece, Scene } from "../api/types";
import { samplesOf } from "./samples";

const standing = new WeakMap<Piece[], Piece[]>();
const EMPTY: Piece[] = [];

/** The set pieces that stand on the stage by themselves; the others are parts of movers, and go with them. */
export function standingPieces(pieces: Piece[] | undefined): Piece[] {
  if (!pieces) return EMPTY;
  const found = standing.get(pieces) ?? pieces.filter((piece) => !piece.part_of);
  standing.set(pieces, found);
  return found;
}

/** The set pieces that a mover is made of, or that ride on it; places are in its own frame. */
export const partsOf = (scene: Scene | null, mover: string): Piece[] =>
  scene?.pieces.filter((piece) => piece.part_of === mover) ?? [];

/** The box round a mover, metres: its middle and its size; what has a shape of its own has that one's. */
export function boxOf(
  mover: Mover,
  parts: Piece[],
): { middle: [number, number, number]; size: [number, number, number] } {
  const own = SIZES[mover.shape];
  if (own) return { middle: [0, own[1] / 2, 0], size: own };
  if (parts.length === 0) return { middle: [0, 0.1, 0], size: [0.3, 0.2, 0.3] };
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const part of parts) {
    const turn = (part.heading * Math.PI) / 180;
    const [c, s] = [Math.abs(Math.cos(turn)), Math.abs(Math.sin(turn))];
    const half = [
      (c * part.width + s * part.depth) / 2,
      part.height / 2,
      (s * part.width + c * part.depth) / 2,
    ];
    const middle = [part.x, part.base + part.height / 2, part.z];
    for (let i = 0; i < 3; i++) {
      low[i] = Math.min(low[i], middle[i] - half[i]);
      high[i] = Math.max(high[i], middle[i] + half[i]);
    }
  }
  const each = (f: (i: number) => number) => [f(0), f(1), f(2)] as [number, number, number];
  return { middle: each((i) => (low[i] + high[i]) / 2), size: each((i) => high[i] - low[i]) };
}

/** How large shapes of their own are to a hand, metres. */
const SIZES: Partial<Record<Mover["shape"], [number, number, number]>> = {
  boat: [1.4, 0.7, 3.6],
  heron: [0.5, 1.2, 0.8],
  cart: [1.3, 1.2, 2.6],
  pony: [0.6, 1.5, 2.0],
  oar: [0.2, 2.4, 0.2],
  lamp: [0.3, 0.4, 0.3],
};

/** What a mover's samples say of it: how far it is open at each frame, and who has it, or put it down, from when. */
export interface MoverFacts {
  open?: number[];
  held?: { frame: number; by: string; act: string; down: boolean }[];
}

export const moverFacts = (mover: string): MoverFacts => (samplesOf(mover)?.facts ?? {}) as MoverFacts;

export const heldOf = (mover: string) => moverFacts(mover).held ?? [];
