import type { Shot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { cutTable, samplesOf, timedLines } from "../store/samples";

/** A frame that an edge may come to lie on, and what is there. */
export interface Spot {
  at: number;
  name: string;
}

/** Pixels within which an edge is drawn on to something. */
const NEAR = 6;

/** Frames of the stage that mean something to a shot: cues, words, keys of its camera, ends of acts, the playhead. */
export function stageSpots(shot: Shot): Spot[] {
  const { scene } = useDocument.getState();
  if (!scene || !shot.camera) return [];
  const camera = itemOf(scene, "cameras", shot.camera);
  const keys = (samplesOf(shot.camera)?.facts.keys ?? []) as number[];
  return [
    { at: useMoment.getState().stage, name: "the playhead" },
    ...scene.cues.map((cue) => ({ at: cue.frame, name: `cue “${cue.name}”` })),
    ...keys.map((at) => ({ at, name: `a key of ${camera?.letter}` })),
    ...wordSpots(),
    ...scene.figures.flatMap((figure) =>
      figure.acts.flatMap((act) => [
        { at: act.frames.first, name: `${figure.name} begins` },
        { at: act.frames.last + 1, name: `${figure.name} ends` },
      ]),
    ),
  ];
}

/** Where words begin, and where lines end. */
export function wordSpots(): Spot[] {
  const { scene } = useDocument.getState();
  return timedLines().flatMap(({ id, last, words }) => {
    const said = (itemOf(scene, "lines", id)?.text ?? "").split(/\s+/);
    return [
      ...words.map((at, i) => ({ at, name: `“${said[i] ?? ""}”` })),
      { at: last + 1, name: `the end of “${said[0] ?? ""}…”` },
    ];
  });
}

/** Frames of the cut that mean something: other joints, and the playhead. */
export function cutSpots(but: string[]): Spot[] {
  const shots = (cutTable()?.shots ?? []).filter((one) => !but.includes(one.id));
  return [
    { at: useMoment.getState().cut, name: "the playhead" },
    ...shots.flatMap((one) => [
      { at: one.cut_first, name: "a joint" },
      { at: one.cut_last + 1, name: "a joint" },
    ]),
  ];
}

/** How far to go for an edge to lie on the nearest of some frames, if that is near where the hand is; and on what. */
export function snapped(by: number, from: number, spots: Spot[], ppf: number): { by: number; on: string } {
  let best = { by, on: "" };
  let nearest = NEAR / ppf;
  for (const { at, name } of spots) {
    const off = Math.abs(at - from - by);
    if (off < nearest) [best, nearest] = [{ by: at - from, on: name }, off];
  }
  return best;
}
