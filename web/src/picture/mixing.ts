import type { Shot } from "../api/types";
import { useAgainst } from "../store/against";
import { useDocument } from "../store/document";
import { useLive } from "../store/live";
import { useMoment } from "../store/moment";
import { cutTable } from "../store/samples";
import { useView } from "../store/view";
import { wallIsUp } from "./wall";

/** A picture that is added up from others by weight, in linear light, and the light that fades add. */
export interface Mix {
  parts: { camera: string; stage: number; weight: number; shot?: string | null }[];
  light: number[];
  /** Shots without a camera, and how much their boards or slates count. */
  slates: { shot: string; weight: number }[];
}

let asked: Mix | null = null;

/** Have this picture drawn, whatever the cut says; none, as the cut says. */
export function askMix(mix: Omit<Mix, "slates"> | null): void {
  // Slates are added when a render is handed over.
  asked = mix && { ...mix, slates: [] };
}

/** What the picture is added up from at this moment; none where it is one camera's own. */
export function mixNow(): Mix | null {
  if (asked) return asked;
  const { through, edges, comparing } = useView.getState();
  const { cut, stage, shot } = useMoment.getState();
  const table = cutTable();
  const shots = useDocument.getState().shown?.shots;
  if (
    through !== "cut" ||
    wallIsUp() ||
    useLive.getState().camera ||
    useAgainst.getState().held ||
    edges ||
    comparing ||
    !table ||
    !shots ||
    shot < 0
  )
    return null;
  const mixed = useDocument.getState().overlay?.mixed ?? table.mixed;
  let [low, high] = [0, mixed.at.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (mixed.at[middle] < cut) low = middle + 1;
    else high = middle;
  }
  if (mixed.at[low] !== cut) return null;
  const part = (one: Shot | undefined, at: number, weight: number) =>
    one?.camera && at >= 0 && weight > 0 ? [{ camera: one.camera, stage: at, weight, shot: one.id }] : [];
  const [own, other] = [shots[shot], shots[mixed.other[low]]] as (Shot | undefined)[];
  const slate = (one: Shot | undefined, weight: number) =>
    one && !one.camera && weight > 0 ? [{ shot: one.id, weight }] : [];
  return {
    parts: [
      ...part(own, table.stage[cut] < 0 ? -1 : stage, mixed.own[low]),
      ...part(other, mixed.stage[low], mixed.others[low]),
    ],
    slates: [...slate(own, mixed.own[low]), ...slate(other, mixed.others[low])],
    light: [mixed.light[3 * low], mixed.light[3 * low + 1], mixed.light[3 * low + 2]],
  };
}
