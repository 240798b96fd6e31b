import { catalogue } from "./catalogue";
import type { CutTable } from "./types";

/** A thing over frames, as the core baked it: rows of numbers by column name. */
export interface Samples {
  columns: Record<string, number>;
  width: number;
  first: number;
  last: number;
  /** A row with the columns that never change filled in. */
  still: Float32Array;
  /** Which columns change, in the order `values` has them. */
  moving: number[];
  values: Float32Array;
  facts: Record<string, unknown>;
  /** The key of the samples that these frames are laid over; none of a thing's whole samples. */
  onto?: string;
}

/** The bytes of a base64 text. */
export function unsealed(text: string): ArrayBuffer {
  const content = atob(text);
  const out = new Uint8Array(content.length);
  // A plain loop: the cut of a long scene is half a million bytes, and a hand is waiting.
  for (let i = 0; i < content.length; i++) out[i] = content.charCodeAt(i);
  return out.buffer;
}

/** A channel's curve, as the core says it is drawn: `KEY` numbers for each key. */
export interface DrawnCurve {
  keys: Float32Array;
  low: number;
  high: number;
}

const { numbers, bits } = catalogue.drawn_key;
/** Where each number of a key of a drawn curve stands, and how many they are. */
export const KEY = {
  ...Object.fromEntries(numbers.map((name, i) => [name, i])),
  size: numbers.length,
} as Record<(typeof numbers)[number] | "size", number>;
export const BITS = bits;

/** Where the numbers of the key on a frame begin. */
export function keyOn(keys: Float32Array, frame: number): number {
  for (let at = 0; at < keys.length; at += KEY.size) if (keys[at] === frame) return at;
  return -1;
}

export const unpackCurve = (curve: { keys: string; low: number; high: number }): DrawnCurve => ({
  ...curve,
  keys: new Float32Array(unsealed(curve.keys)),
});

/** A subject as the audience sees it, and the camera that shows it, over the scene's frames: columns by name. */
export interface Strip {
  first: number;
  count: number;
  columns: Record<string, Float32Array>;
}

export function unpackStrip(strip: { first: number; columns: string[]; values: string }): Strip {
  const all = new Float32Array(unsealed(strip.values));
  const count = all.length / strip.columns.length;
  return {
    first: strip.first,
    count,
    columns: Object.fromEntries(
      strip.columns.map((name, i) => [name, all.subarray(i * count, (i + 1) * count)]),
    ),
  };
}

function open(buffer: ArrayBuffer): { header: Record<string, unknown>; body: number } {
  const length = new DataView(buffer).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
  return { header, body: 4 + length };
}

export function unpackSamples(buffer: ArrayBuffer): Samples {
  const { header, body } = open(buffer);
  const names = header.columns as string[];
  const still = new Float32Array(names.length);
  const constant = header.still as Record<string, number>;
  for (const [i, value] of Object.entries(constant)) still[Number(i)] = value;
  const moving = names.map((_, i) => i).filter((i) => !(i in constant));
  return {
    still,
    moving,
    columns: Object.fromEntries(names.map((name, i) => [name, i])),
    width: names.length,
    first: header.first as number,
    last: header.last as number,
    values: new Float32Array(buffer, body),
    facts: header.facts as Record<string, unknown>,
    onto: header.onto as string | undefined,
  };
}

/** Samples with some frames of them replaced. */
export function laidOver(whole: Samples, part: Samples): Samples {
  const { still, width } = whole;
  const changes = new Set([...whole.moving, ...part.moving]);
  for (let i = 0; i < width; i++) if (part.still[i] !== still[i] && !part.moving.includes(i)) changes.add(i);
  const moving = [...changes].sort((a, b) => a - b);
  const same = moving.length === whole.moving.length;
  const values = same
    ? whole.values.slice()
    : new Float32Array((whole.last - whole.first + 1) * moving.length);
  const [first, last] = same ? [part.first, part.last] : [whole.first, whole.last];
  for (let frame = first; frame <= last; frame++) {
    const row = rowOn(frame < part.first || frame > part.last ? whole : part, frame);
    const at = (frame - whole.first) * moving.length;
    moving.forEach((column, n) => {
      values[at + n] = row[column];
    });
  }
  return { ...whole, moving, values, facts: part.facts };
}

function mixedOf(frames: Int32Array, weights: Float32Array): CutTable["mixed"] {
  const count = frames.length / 3;
  return {
    at: frames.subarray(0, count),
    other: frames.subarray(count, 2 * count),
    stage: frames.subarray(2 * count),
    own: weights.subarray(0, count),
    others: weights.subarray(count, 2 * count),
    light: weights.subarray(2 * count),
  };
}

/** The frames of a cut that are mixed, by themselves: three whole numbers and five others each. */
export function unpackMixed(buffer: ArrayBuffer): CutTable["mixed"] {
  const count = buffer.byteLength / 32;
  return mixedOf(new Int32Array(buffer, 0, 3 * count), new Float32Array(buffer, 12 * count));
}

export function unpackCut(buffer: ArrayBuffer): CutTable {
  const { header, body } = open(buffer);
  const length = header.length as number;
  const mixed = header.mixed as number;
  const all = new Int32Array(buffer, body);
  const stageFrames = all.length - (3 * length + 1 + 8 * mixed);
  let from = 0;
  const take = (count: number) => {
    from += count;
    return all.subarray(from - count, from);
  };
  const [shot, stage, timecode, frames, firstCut] = [length, length, length + 1, 3 * mixed, stageFrames].map(
    take,
  );
  return {
    length,
    drop: header.drop as boolean,
    first: header.first as number,
    shots: header.shots as CutTable["shots"],
    shot,
    stage,
    timecode,
    firstCut,
    mixed: mixedOf(frames, new Float32Array(buffer, body + 4 * from)),
  };
}

/**
 * The row of a moment; frames outside stand at the nearest end. Between two frames it goes straight, as the core has it,
 * but up to a frame on which the thing is suddenly elsewhere it stays where it was.
 */
export function rowAt(samples: Samples, moment: number): Float32Array {
  const frame = Math.floor(moment);
  const share = moment - frame;
  const row = rowOn(samples, frame);
  if (share === 0 || frame < samples.first || frame >= samples.last) return row;
  if ((samples.facts.jumps as number[] | undefined)?.includes(frame + 1)) return row;
  const next = rowOn(samples, frame + 1);
  return row.map((value, i) => value + share * (next[i] - value));
}

function rowOn(samples: Samples, frame: number): Float32Array {
  const { moving, still, values, width } = samples;
  const i = (Math.min(Math.max(frame, samples.first), samples.last) - samples.first) * moving.length;
  if (moving.length === width) return values.subarray(i, i + width);
  if (moving.length === 0) return still;
  const row = still.slice();
  moving.forEach((column, n) => {
    row[column] = values[i + n];
  });
  return row;
}

/** Where something goes over all its frames: x, y and z in turn. */
export function placesOf(samples: Samples): Float32Array {
  const count = samples.last - samples.first + 1;
  const out = new Float32Array(count * 3);
  ["x", "y", "z"].forEach((name, axis) => {
    const column = samples.columns[name];
    const n = samples.moving.indexOf(column);
    for (let i = 0; i < count; i++)
      out[3 * i + axis] = n < 0 ? samples.still[column] : samples.values[i * samples.moving.length + n];
  });
  return out;
}

/** A timecode label as the server packed it, in digits. */
export function showTimecode(packed: number, drop: boolean): string {
  const two = (n: number) => String(n).padStart(2, "0");
  const [h, m, s, f] = [packed / 1e6, (packed / 1e4) % 100, (packed / 100) % 100, packed % 100].map(
    Math.floor,
  );
  return `${two(h)}:${two(m)}:${two(s)}${drop ? ";" : ":"}${two(f)}`;
}

/** Where a figure's eyes are, and how far their line is drawn: the last six numbers of its row, metres. */
export const sightOf = (row: Float32Array): [number, number, number][] =>
  [row.length - 6, row.length - 3].map((i) => [row[i], row[i + 1], row[i + 2]]);
