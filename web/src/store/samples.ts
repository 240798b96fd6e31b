import { create } from "zustand";
import { laidOver, rowAt, type Samples, unpackCut, unpackSamples } from "../api/samples";
import type { CameraColumn, CutTable, MoverColumn, TimedLine } from "../api/types";
import { useDocument } from "./document";
import { contentUrl } from "./past";

/** The clocks go under a name that no thing can have. */
export const CUT = "scene:cut";
export const LINES = "scene:lines";
export const SOUNDS = "scene:sounds";

/** On which frame of its ruler a sound begins, and after how many samples a looped one begins again. */
interface SoundTime {
  id: string;
  first: number;
  period: number | null;
}

/** What is sent whole whenever it changes. */
export const WHOLE: ReadonlySet<string> = new Set([CUT, LINES, SOUNDS]);

interface Versions {
  /** How often each thing's samples came again or were tried: what shows a thing watches its own. */
  of: Record<string, number>;
  /** Things whose samples could not be fetched, and why: what is drawn of them is not as it is stored. */
  failed: Record<string, string>;
  /** How often it was tried again by hand. */
  tries: number;
}

export const useVersions = create<Versions>(() => ({ of: {}, failed: {}, tries: 0 }));

/** Draw again with a thing's samples, whenever they change. */
export const useVersion = (thing: string): number => useVersions((s) => s.of[thing] ?? 0);

export function touch(things: Iterable<string>): void {
  const all = [...things];
  if (all.length === 0) return;
  useVersions.setState((s) => {
    const of = { ...s.of };
    for (const thing of all) of[thing] = (of[thing] ?? 0) + 1;
    return { of };
  });
}

const kept = new Map<string, { key: string; samples: Samples }>();
let cut: CutTable | null = null;
let lines: TimedLine[] = [];
let nextSpeaker: string | null = null;
let pitches: Record<string, number> = {};
let sounds: SoundTime[] = [];
/** Under which keys those that are sent whole came. */
const wholeKeys: Record<string, string> = {};

export const samplesOf = (thing: string): Samples | null => kept.get(thing)?.samples ?? null;
export const cutTable = (): CutTable | null => useDocument.getState().overlay?.cut ?? cut;

type Places<C extends string> = Record<C, number>;
let cameraPlaces: Places<CameraColumn> | null = null;
let moverPlaces: Places<MoverColumn> | null = null;

/** Where each value stands in a camera's row, as the packed samples say; the same for all cameras. */
export const cameraColumns = (): Places<CameraColumn> => cameraPlaces ?? ({} as Places<CameraColumn>);
/** The same for a mover's row. A figure's row begins as a mover's does, with its place and heading. */
export const moverColumns = (): Places<MoverColumn> => moverPlaces ?? ({} as Places<MoverColumn>);

/** Where the shots lie in the cut: as the edit in hand would leave them, else as stored. */
export const placedShots = (): CutTable["shots"] =>
  useDocument.getState().overlay?.placed ?? cut?.shots ?? [];

/** On which frame of its ruler each stored sound begins. */
export const soundTimes = (): SoundTime[] => sounds;

/** Who would say the next line. */
export const speaksNext = (): string | null => nextSpeaker;

/** How high a figure speaks, Hz. */
export const pitchOf = (figure: string): number => pitches[figure] ?? 0;

/** When each line is said: as the change in hand would leave it, else as stored. */
export const timedLines = (): TimedLine[] => useDocument.getState().overlay?.lines ?? lines;

/** Where a hand has something while it works it; the operator says. */
let worked: (thing: string, row: Float32Array, frame: number) => Float32Array = (_, row) => row;
export function workBy(hand: typeof worked): void {
  worked = hand;
}

/** The shot whose own samples count, where it has any; whoever knows what the picture is of says. */
let shotOf: () => string | null = () => null;
export function dressBy(drawn: typeof shotOf): void {
  shotOf = drawn;
}

/** The sample row of a thing at a stage frame: where a hand has it, the drag in hand, else what is stored. */
export function rowOf(thing: string, frame: number): Float32Array | null {
  const row = bakedRow(thing, frame);
  return row && worked(thing, row, frame);
}

/** The same, whatever a hand that works it does. */
export function bakedRow(thing: string, frame: number): Float32Array | null {
  const shot = shotOf();
  return (shot && hereRow(`own:${shot}:${thing}`, frame)) || hereRow(thing, frame);
}

function hereRow(thing: string, frame: number): Float32Array | null {
  const tried = useDocument.getState().overlay?.samples[thing];
  if (tried && tried.first <= frame && frame <= tried.last) return rowAt(tried, frame);
  const found = kept.get(thing)?.samples;
  return found ? rowAt(found, frame) : null;
}

/** Take in packed samples, wherever they came with. */
export function takeIn(thing: string, key: string, content: ArrayBuffer): void {
  if (WHOLE.has(thing)) {
    if (thing === CUT) cut = unpackCut(content);
    else {
      const told = JSON.parse(new TextDecoder().decode(content));
      if (thing === LINES) {
        lines = told.lines;
        nextSpeaker = told.next;
        pitches = told.pitches;
      } else sounds = told;
    }
    wholeKeys[thing] = key;
    return;
  }
  const came = unpackSamples(content);
  const known = kept.get(thing);
  // Some frames of it, over samples that are not here: the whole is fetched then.
  if (came.onto && known?.key !== came.onto) return;
  const samples = came.onto && known ? laidOver(known.samples, came) : came;
  if ("gain" in samples.columns) cameraPlaces ??= samples.columns as Places<CameraColumn>;
  else if ("sink" in samples.columns) moverPlaces ??= samples.columns as Places<MoverColumn>;
  kept.set(thing, { key, samples });
}

const missing = (thing: string, key: string): boolean =>
  !thing.startsWith("shape:") && (wholeKeys[thing] ?? kept.get(thing)?.key) !== key;

/** Fetch what is not here yet under its key; what cannot be had is noted, thing by thing. */
export async function fetchBaked(
  id: number,
  keys: Record<string, string>,
  only?: Set<string>,
): Promise<void> {
  const wanted = Object.entries(keys).filter(
    ([thing, key]) => (!only || only.has(thing)) && missing(thing, key),
  );
  const failed: Record<string, string> = {};
  await Promise.all(
    wanted.map(async ([thing, key]) => {
      try {
        const answer = await fetch(contentUrl(id, `samples/${encodeURIComponent(thing)}`, key));
        if (!answer.ok) throw new Error(((await answer.json()) as { detail?: string }).detail);
        const content = await answer.arrayBuffer();
        if (useDocument.getState().id === id || useDocument.getState().id === null)
          takeIn(thing, key, content);
      } catch (error) {
        // A refusal has its own sentence; a fetch that never arrived has none for people.
        const told = error instanceof Error && !(error instanceof TypeError) ? error.message : "";
        failed[thing] = told || "The server does not answer.";
      }
    }),
  );
  for (const thing of kept.keys()) if (!(thing in keys)) kept.delete(thing);
  useVersions.setState((s) => {
    const still = Object.fromEntries(
      Object.entries(s.failed).filter(([thing]) => thing in keys && !wanted.some(([w]) => w === thing)),
    );
    return { failed: { ...still, ...failed } };
  });
  touch(wanted.map(([thing]) => thing));
}

/** Note that something could not be fetched and why, or that it is here after all. */
export function noteFailed(thing: string, why: string | null): void {
  useVersions.setState((s) => {
    const { [thing]: _, ...others } = s.failed;
    return { failed: why === null ? others : { ...others, [thing]: why } };
  });
}

/** Try again for what could not be fetched. */
export async function fetchAgain(): Promise<void> {
  useVersions.setState((s) => ({ tries: s.tries + 1 }));
  const { id, keys } = useDocument.getState();
  const { failed } = useVersions.getState();
  if (id !== null) await fetchBaked(id, keys, new Set(Object.keys(failed)));
}

const FETCHING = 4;

/** Fetch what is missing in the background, a few at a time, and have it drawn as it comes. */
export async function fetchRest(id: number, keys: Record<string, string>): Promise<void> {
  const rest = Object.keys(keys).filter((thing) => !WHOLE.has(thing) && missing(thing, keys[thing]));
  const current = () => useDocument.getState().id === id;
  await Promise.all(
    Array.from({ length: FETCHING }, async () => {
      for (let thing = rest.shift(); thing && current(); thing = rest.shift())
        await fetchBaked(id, { ...useDocument.getState().keys }, new Set([thing]));
    }),
  );
}

export function forgetSamples(): void {
  kept.clear();
  cut = null;
  lines = [];
  sounds = [];
  for (const thing of Object.keys(wholeKeys)) delete wholeKeys[thing];
  useVersions.setState({ of: {}, failed: {}, tries: 0 });
}
