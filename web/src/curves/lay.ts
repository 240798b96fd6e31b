import type { ChannelSpec } from "../api/types";
import type { Span } from "../store/picked";
import type { Along } from "../ui/strip";

/** Where frames and values lie on the sheet, pixels. */
export interface Lay {
  along: Along;
  height: number;
  /** Rows of dots rather than curves: the channels in order, and how far they are scrolled. */
  rows: { names: string[]; top: number } | null;
  span(name: string): Span;
}

export const ROW = 20;

/** A key stands in the middle of its frame. */
export const xAt = ({ along }: Lay, frame: number): number => (frame - along.left + 0.5) * along.ppf;
export const frameAt = ({ along }: Lay, x: number): number => x / along.ppf + along.left - 0.5;

export function yAt(lay: Lay, name: string, value: number): number {
  if (lay.rows) return lay.rows.names.indexOf(name) * ROW - lay.rows.top + ROW / 2;
  const { low, high } = lay.span(name);
  return lay.height - ((value - low) / (high - low)) * lay.height;
}

/** Pixels to a unit of a channel's values. */
export function perUnit(lay: Lay, name: string): number {
  const { low, high } = lay.span(name);
  return lay.height / (high - low);
}

export const valueAt = (lay: Lay, name: string, y: number): number =>
  lay.span(name).low + (lay.height - y) / perUnit(lay, name);

/** A place on a channel's scale, and what stands there. */
export interface Mark {
  value: number;
  text: string;
}

/** How far marks stand apart, about, pixels. */
const APART = 34;

/** The marks of a channel's scale that are in sight: those it has of its own, else round steps. */
export function marksOf(
  lay: Lay,
  { spec, marks }: { spec: ChannelSpec; marks?: [number, number][] },
): Mark[] {
  const { low, high } = lay.span(spec.name);
  if (marks) {
    const seen = marks.filter(([kept]) => kept >= low && kept <= high);
    const every = Math.ceil(seen.length / Math.max(lay.height / APART, 1));
    return seen
      .filter((_, i) => i % every === 0)
      .map(([value, shown]) => ({
        value,
        text: `${spec.front}${shown.toFixed(1)}${spec.unit && ` ${spec.unit}`}`,
      }));
  }
  const { at, digits } = ticks(low, high, lay.height);
  const unit = spec.unit === "°" ? "°" : spec.unit && ` ${spec.unit}`;
  return at.map((value) => ({
    value,
    text: `${Number(value.toFixed(digits)) === 0 ? (0).toFixed(digits) : value.toFixed(digits)}${unit}`,
  }));
}

/** Round steps, about so many pixels apart. */
export function ticks(low: number, high: number, height: number): { at: number[]; digits: number } {
  const rough = ((high - low) / height) * APART;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5, 10].find((n) => n * power >= rough) ?? 10);
  const at: number[] = [];
  for (let n = Math.ceil(low / step); n * step <= high; n++) at.push(n * step);
  return { at, digits: Math.max(0, -Math.floor(Math.log10(step) + 1e-9)) };
}
