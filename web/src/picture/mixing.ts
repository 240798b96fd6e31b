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
}

let asked: Mix | null = null;

/** Have this picture drawn, whatever the cut says; none, as the cut says. */
export function askMix(mix: Mix | null): void {
  asked = mix;
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
  return {
    parts: [
      ...part(shots[shot], table.stage[cut] < 0 ? -1 : stage, mixed.own[low]),
      ...part(shots[mixed.other[low]], mixed.stage[low], mixed.others[low]),
    ],
    light: [mixed.light[3 * low], mixed.light[3 * low + 1], mixed.light[3 * low + 2]],
  };
}
