import { create } from "zustand";
import { catalogue } from "../api/catalogue";
import type { Camera, Figure, Mover } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { type Hand, STILL, type Works } from "./hand";

export type Worked = { table: "cameras" | "movers" | "figures"; id: string };

interface Operate {
  /** What is operated; nothing while nobody operates. */
  thing: Worked | null;
  works: Works;
  /** The hand goes on top of what the thing does already, rather than from where it stands. */
  onTop: boolean;
  phase: "ready" | "counting" | "recording";
  /** Seconds left of the count-in. */
  count: number;
  first: number;
  last: number;
  hand: Hand;
}

export const useOperate = create<Operate>(() => ({
  thing: null,
  works: "look",
  onTop: false,
  phase: "ready",
  count: 0,
  first: 0,
  last: 0,
  hand: STILL,
}));

export function operatedItem(worked: Worked | null): Camera | Mover | Figure | null {
  const scene = useDocument.getState().scene;
  const items: (Camera | Mover | Figure)[] = worked && scene ? scene[worked.table] : [];
  return items.find((one) => one.id === worked?.id) ?? null;
}

/** Over which frames the next pass goes: the loop where one is set, else from here to the end. */
export function passRange(): { first: number; last: number } {
  const { loop, stage } = useMoment.getState();
  const whole = useDocument.getState().scene?.frames ?? { first: stage, last: stage };
  if (loop?.clock === "stage") return { first: loop.first, last: loop.last };
  return { first: stage >= whole.last ? whole.first : stage, last: whole.last };
}

/** What lens and neck allow: the numbers as channels keep them. */
export function limits(): Record<string, readonly [number, number]> {
  const { thing } = useOperate.getState();
  const item = operatedItem(thing);
  const out = catalogue.hand.limits;
  const { lenses } = useDocument.getState().scene ?? { lenses: [] };
  const lens = item && "mounted" in item ? lenses.find((one) => one.id === item.mounted) : undefined;
  if (!lens) return out;
  const distance = out["focus.distance"];
  return {
    ...out,
    focal: [lens.shortest_mm, lens.longest_mm],
    "focus.distance": [distance[0], 1 / lens.nearest_m],
  };
}

/** Why the hand cannot work something here, if it cannot. */
export function cannot(works: Works): string | null {
  const [shortest, longest] = limits().focal;
  return works === "zoom" && shortest === longest ? `The ${shortest} mm lens does not zoom.` : null;
}

export const ZOOM_REMEDY = "Leave operating, then mount a zoom or take the lens off on the card.";

/** How long a pass is, said in seconds. */
export const seconds = (frames: number): string => `${(frames / rate()).toFixed(1)} s`;
