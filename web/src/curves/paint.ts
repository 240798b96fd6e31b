import { BITS, type DrawnCurve, KEY } from "../api/samples";
import type { ChannelSpec } from "../api/types";
import { type Lay, marksOf, ROW, xAt, yAt } from "./lay";

/** A channel as it is drawn. */
export interface Line {
  spec: ChannelSpec;
  curve: DrawnCurve;
  hue: string;
  dash: number[];
  active: boolean;
  /** Its scale's own marks, kept and shown, where it is shown in another measure than it is kept in. */
  marks?: [number, number][];
}

export interface Ink {
  ink: string;
  faint: string;
  line: string;
  sheet: string;
  ochre: string;
  brick: string;
  slate: string;
}

export function inks(): Ink {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: of("ink"),
    faint: of("faint"),
    line: of("line"),
    sheet: of("sheet"),
    ochre: of("ochre"),
    brick: of("brick"),
    slate: of("slate"),
  };
}

/** Which of a curve's keys lie in sight, and one on each side: [first, past the last). */
function inSight(lay: Lay, { keys }: DrawnCurve): [number, number] {
  const count = keys.length / KEY.size;
  const { left, width, ppf } = lay.along;
  let first = 0;
  while (first < count && keys[first * KEY.size] < left) first++;
  let last = first;
  while (last < count && keys[last * KEY.size] <= left + width / ppf) last++;
  return [Math.max(first - 1, 0), Math.min(last + 1, count)];
}

/** Segments narrower than this are drawn straight, pixels: no eye can tell, and thousands are drawn in time. */
const FINE = 4;

/** The path of a curve over what is in sight: a Bézier for each segment, and level lines outside its keys. */
export function pathOf(lay: Lay, { spec, curve }: Line): Path2D {
  const path = new Path2D();
  const { keys } = curve;
  const count = keys.length / KEY.size;
  const y = (value: number) => yAt(lay, spec.name, value);
  if (count === 0) {
    path.moveTo(0, y(curve.low));
    path.lineTo(lay.along.width, y(curve.low));
    return path;
  }
  const [first, last] = inSight(lay, curve);
  for (let i = first; i < last; i++) {
    const at = i * KEY.size;
    const [f, v] = [keys[at + KEY.frame], keys[at + KEY.value]];
    if (i === first) {
      path.moveTo(i === 0 ? Math.min(0, xAt(lay, f)) : xAt(lay, f), y(v));
      path.lineTo(xAt(lay, f), y(v));
    }
    if (i === count - 1) {
      path.lineTo(Math.max(lay.along.width, xAt(lay, f)), y(v));
    } else if (i + 1 < last) {
      const to = at + KEY.size;
      const [g, w] = [keys[to + KEY.frame], keys[to + KEY.value]];
      if (keys[at + KEY.bits] & BITS.held) {
        path.lineTo(xAt(lay, g), y(v));
        path.lineTo(xAt(lay, g), y(w));
      } else if ((g - f) * lay.along.ppf < FINE) {
        path.lineTo(xAt(lay, g), y(w));
      } else
        path.bezierCurveTo(
          xAt(lay, f + keys[at + KEY.outX]),
          y(v + keys[at + KEY.outY]),
          xAt(lay, g + keys[to + KEY.backX]),
          y(w + keys[to + KEY.backY]),
          xAt(lay, g),
          y(w),
        );
    }
  }
  return path;
}

export function drawCurve(c: CanvasRenderingContext2D, lay: Lay, line: Line, ghost = false): void {
  c.save();
  c.strokeStyle = line.hue;
  c.globalAlpha = ghost ? 0.3 : line.active ? 1 : 0.75;
  c.lineWidth = line.active ? 2.2 : 1.4;
  const [first, last] = inSight(lay, line.curve);
  c.setLineDash(last - first > lay.along.width / 8 ? [] : line.dash);
  c.stroke(pathOf(lay, line));
  c.restore();
}

/** The keys of a curve; the picked ones larger, in ochre. */
export function drawKeys(
  c: CanvasRenderingContext2D,
  lay: Lay,
  { spec, curve, hue }: Line,
  picked: Set<number>,
  ink: Ink,
): void {
  const { keys } = curve;
  const [first, last] = inSight(lay, curve);
  const plain = new Path2D();
  const on = new Path2D();
  const drawn = new Set<number>();
  const dense = last - first > lay.along.width / 8;
  for (let i = first; i < last; i++) {
    const frame = keys[i * KEY.size];
    const [x, y] = [xAt(lay, frame), yAt(lay, spec.name, keys[i * KEY.size + KEY.value])];
    const chosen = picked.has(frame);
    // Dots on each other are drawn once.
    const cell = Math.round(x / 3) * 65_536 + Math.round(y / 3);
    if (!chosen && drawn.has(cell)) continue;
    drawn.add(cell);
    const r = chosen ? 5.5 : dense ? 2.5 : 4;
    const path = chosen ? on : plain;
    path.moveTo(x, y - r);
    path.lineTo(x + r, y);
    path.lineTo(x, y + r);
    path.lineTo(x - r, y);
  }
  c.fillStyle = hue;
  c.fill(plain);
  c.fillStyle = ink.ochre;
  c.strokeStyle = ink.ink;
  c.lineWidth = 1.2;
  c.fill(on);
  c.stroke(on);
}

/** As many held keys are drawn; of more, the first of them. */
const MOST_HELD = 400;

/** The picked keys where the hand has them, before the core has answered. */
export function drawHeld(
  c: CanvasRenderingContext2D,
  lay: Lay,
  lines: Line[],
  picked: Record<string, number[]>,
  { by, up, measure }: { by: number; up: number; measure?: string },
  ink: Ink,
): void {
  const path = new Path2D();
  for (const { spec, curve } of lines) {
    const frames = new Set(picked[spec.name]?.slice(0, MOST_HELD));
    if (frames.size === 0) continue;
    const rise = spec.measure === measure ? up : 0;
    for (let i = 0; i < curve.keys.length; i += KEY.size) {
      if (!frames.has(curve.keys[i])) continue;
      const [x, y] = [xAt(lay, curve.keys[i] + by), yAt(lay, spec.name, curve.keys[i + KEY.value] + rise)];
      path.moveTo(x, y - 7);
      path.lineTo(x + 7, y);
      path.lineTo(x, y + 7);
      path.lineTo(x - 7, y);
      path.closePath();
    }
  }
  c.strokeStyle = ink.ink;
  c.lineWidth = 1.4;
  c.stroke(path);
}

/** A handle that can be taken. */
export interface Grip {
  name: string;
  frame: number;
  side: "before" | "after";
  x: number;
  y: number;
  /** Shortened to its segment, or makes the curve overshoot. */
  cut: boolean;
  over: boolean;
}

/** The handles of picked keys whose sides are shaped. */
export function gripsOf(
  lay: Lay,
  { spec, curve }: Line,
  picked: Set<number>,
  shaped: (frame: number, side: "before" | "after") => boolean,
): Grip[] {
  if (lay.rows) return [];
  const { keys } = curve;
  const out: Grip[] = [];
  const [first, last] = inSight(lay, curve);
  for (let i = first; i < last; i++) {
    const at = i * KEY.size;
    const frame = keys[at];
    if (!picked.has(frame)) continue;
    for (const side of ["before", "after"] as const) {
      if (!shaped(frame, side)) continue;
      const [dx, dy] =
        side === "before"
          ? [keys[at + KEY.backX], keys[at + KEY.backY]]
          : [keys[at + KEY.outX], keys[at + KEY.outY]];
      if (dx === 0 && dy === 0) continue;
      const bits = keys[at + KEY.bits];
      out.push({
        name: spec.name,
        frame,
        side,
        x: xAt(lay, frame + dx),
        y: yAt(lay, spec.name, keys[at + KEY.value] + dy),
        cut: (bits & (side === "before" ? BITS.cutBefore : BITS.cutAfter)) > 0,
        over: (bits & (side === "before" ? BITS.overBefore : BITS.overAfter)) > 0,
      });
    }
  }
  return out;
}

export function drawGrips(c: CanvasRenderingContext2D, lay: Lay, line: Line, grips: Grip[], ink: Ink): void {
  const { keys } = line.curve;
  const value = new Values(keys);
  for (const grip of grips) {
    const y = yAt(lay, line.spec.name, value.at(grip.frame));
    c.strokeStyle = grip.over ? ink.brick : ink.ochre;
    c.lineWidth = 1;
    c.setLineDash(grip.cut ? [2, 2] : []);
    c.beginPath();
    c.moveTo(xAt(lay, grip.frame), y);
    c.lineTo(grip.x, grip.y);
    c.stroke();
    c.setLineDash([]);
    c.fillStyle = grip.over ? ink.brick : ink.sheet;
    c.beginPath();
    c.arc(grip.x, grip.y, 4, 0, 7);
    c.fill();
    c.stroke();
  }
}

/** Values of keys by frame. */
class Values {
  private readonly values = new Map<number, number>();
  constructor(keys: Float32Array) {
    for (let i = 0; i < keys.length; i += KEY.size) this.values.set(keys[i], keys[i + KEY.value]);
  }
  at = (frame: number): number => this.values.get(frame) ?? 0;
}

/** Lines at round values of the active channel, and rows where there are rows. */
export function drawGround(c: CanvasRenderingContext2D, lay: Lay, active: Line | null, ink: Ink): void {
  const { width } = lay.along;
  c.fillStyle = ink.sheet;
  c.fillRect(0, 0, width, lay.height);
  c.strokeStyle = ink.line;
  c.lineWidth = 1;
  if (lay.rows) {
    c.globalAlpha = 0.6;
    for (let i = 1; i <= lay.rows.names.length; i++) {
      const y = Math.round(i * ROW - lay.rows.top) - 0.5;
      c.beginPath();
      c.moveTo(0, y);
      c.lineTo(width, y);
      c.stroke();
    }
    c.globalAlpha = 1;
    return;
  }
  if (!active) return;
  for (const { value } of marksOf(lay, active)) {
    const y = Math.round(yAt(lay, active.spec.name, value)) + 0.5;
    c.globalAlpha = value === 0 ? 1 : 0.55;
    c.beginPath();
    c.moveTo(0, y);
    c.lineTo(width, y);
    c.stroke();
  }
  c.globalAlpha = 1;
}

/** The numbers of the active channel's scale, over the curves, with its unit. */
export function drawAxis(c: CanvasRenderingContext2D, lay: Lay, active: Line | null, ink: Ink): void {
  if (lay.rows || !active) return;
  const { spec } = active;
  const face = getComputedStyle(document.body).fontFamily;
  c.font = `12px ${face}`;
  c.textBaseline = "middle";
  for (const { value, text } of marksOf(lay, active)) {
    const y = yAt(lay, spec.name, value);
    if (y < 8 || y > lay.height - 8) continue;
    c.fillStyle = ink.sheet;
    c.fillRect(2, y - 7, c.measureText(text).width + 6, 14);
    c.fillStyle = active.hue;
    c.fillText(text, 5, y);
  }
}
