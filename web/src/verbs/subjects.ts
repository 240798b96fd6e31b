import type { Scene, Spot } from "../api/types";

export interface Subject {
  value: string;
  label: string;
  spot: Spot;
}

/** Whom a camera or a perch can go by, for a list: figures by a joint of theirs, then movers. */
export const subjectsOf = (scene: Scene | null, joint: string): Subject[] => [
  ...(scene?.figures ?? []).map(({ id, name }) => ({
    value: id,
    label: name,
    spot: { kind: "figure" as const, figure: id, joint },
  })),
  ...(scene?.movers ?? []).map(({ id, name }) => ({
    value: id,
    label: name,
    spot: { kind: "mover" as const, mover: id },
  })),
];
