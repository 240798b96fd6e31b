import { create } from "zustand";
import type { Channel, ChannelSpec } from "../api/types";

/** Picked keys: for each channel, by its name, the frames. */
export type Picked = Record<string, number[]>;

export interface Span {
  low: number;
  high: number;
}

interface Picking {
  /** Channels whose curves are shown, by name; none chosen shows those that have keys. */
  shown: string[] | null;
  /** The channel whose unit is on the axis, and that the keyboard goes along. */
  active: string | null;
  picked: Picked;
  /** Channels of one unit on one scale, rather than each on its own. */
  shared: boolean;
  /** How far up and down is seen, by channel or, shared, by measure. */
  spans: Record<string, Span>;
  /** How far the rows are scrolled down, pixels. */
  top: number;
  /** The hitch that is looked at, and whether a mend of it is shown. */
  hitch: { first: number; last: number; sentence: string; kind: string } | null;
  proposed: boolean;
}

/** What of the curves is looked at and picked. */
export const useKeysPicked = create<Picking>(() => ({
  shown: null,
  active: null,
  picked: {},
  shared: false,
  spans: {},
  top: 0,
  hitch: null,
  proposed: false,
}));

export const countPicked = (picked: Picked): number =>
  Object.values(picked).reduce((n, frames) => n + frames.length, 0);

/** The picked keys as commands name them: runs of neighbours as ranges. */
export function pickedKeys(thing: string, channels: Record<string, Channel>, picked: Picked) {
  const out: { thing: string; channel: string; frame: number; last: number }[] = [];
  for (const [channel, frames] of Object.entries(picked)) {
    const on = new Set(frames);
    let run: (typeof out)[number] | null = null;
    for (const { frame } of channels[channel]?.keys ?? []) {
      if (!on.has(frame)) {
        run = null;
      } else if (run) run.last = frame;
      else {
        run = { thing, channel, frame, last: frame };
        out.push(run);
      }
    }
  }
  return out;
}

/** Which keys are picked once an edit has made others of them: all but those that were not picked before it. */
export function pickedAfter(
  picked: Picked,
  before: Record<string, Channel>,
  after: Record<string, Channel>,
): Picked {
  return Object.fromEntries(
    Object.entries(picked).map(([name, frames]) => {
      if (before[name] === after[name]) return [name, frames];
      const on = new Set(frames);
      const stayed = new Set(before[name]?.keys.map((k) => k.frame).filter((f) => !on.has(f)));
      return [name, (after[name]?.keys ?? []).map((k) => k.frame).filter((f) => !stayed.has(f))];
    }),
  );
}

/** What the scale of a channel is kept under. */
export const scaleOf = (spec: ChannelSpec, shared: boolean): string =>
  shared ? `in ${spec.measure}` : spec.name;

/** Below this a curve is a line for the eye, in the measure it is kept in. */
const LEAST: Record<ChannelSpec["measure"], number> = {
  metres: 0.05,
  degrees: 0.5,
  millimetres: 0.5,
  stops: 0.1,
  "per metre": 0.02,
  plain: 0.02,
};

/** A span with room round it. */
export function roomy(low: number, high: number, measure: ChannelSpec["measure"]): Span {
  const middle = (low + high) / 2;
  const half = Math.max((high - low) * 0.58, LEAST[measure] / 2);
  return { low: middle - half, high: middle + half };
}
