import { type PointerEvent, useEffect, useLayoutEffect, useRef, useState } from "react";
import { KEY } from "../api/samples";
import type { Channel } from "../api/types";
import { useCurves } from "../store/curves";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { type Picked, pickedAfter, scaleOf, useKeysPicked } from "../store/picked";
import { useView } from "../store/view";
import { type Hand, type Held, useHold } from "../ui/hold";
import { useAlong } from "../ui/strip";
import { doPicked, dropTry, keyHere, picked as pickedNow, tryPicked } from "../verbs/curves";
import { onKeys } from "./keyboard";
import { frameAt, type Lay, perUnit, ROW, valueAt, xAt, yAt } from "./lay";
import type { Shown } from "./lines";
import {
  drawAxis,
  drawCurve,
  drawGrips,
  drawGround,
  drawHeld,
  drawKeys,
  type Grip,
  gripsOf,
  inks,
  type Line,
  pathOf,
} from "./paint";

/** How near the hand must be to take something, pixels. */
const NEAR = 8;
/** How near a value or frame must be to be snapped to. */
const SNAP = 6;

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Curves, or rows of keys, that can be taken by hand. */
export function Surface({ shown, rows }: { shown: Shown; rows: boolean }) {
  const along = useAlong();
  const room = useRef<HTMLDivElement>(null);
  const ground = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const [height, setHeight] = useState(120);
  const [box, setBox] = useState<Box | null>(null);
  /** Where the hand has the picked keys: shown at once, the curve follows as the core answers. */
  const [held, setHeld] = useState<{ by: number; up: number; measure?: string } | null>(null);
  const { picked, shared, spans } = useKeysPicked();
  const dim = useView((s) => s.dim);
  const hold = useHold();
  const top = useKeysPicked((s) => s.top);
  const count = rows ? Math.max(shown.names.length * ROW, height) : height;

  const lay: Lay = {
    along,
    height,
    rows: rows ? { names: shown.names, top } : null,
    span: (name) => {
      const spec = shown.lines.find((line) => line.spec.name === name)?.spec;
      return (spec && spans[scaleOf(spec, shared)]) ?? { low: 0, high: 1 };
    },
  };
  const active = shown.lines.find((line) => line.active) ?? null;
  const changing = shown.tried.map((line) => line.spec.name).join(" ");
  const now = pickedAfter(picked, shown.stored, shown.now);
  const on = (name: string) => new Set(now[name]);
  const shapedIn =
    (channels: Record<string, Channel>, name: string) => (frame: number, side: "before" | "after") =>
      channels[name]?.keys.find((k) => k.frame === frame)?.[side] === "shaped";

  useEffect(() => {
    const el = room.current;
    if (!el) return;
    const watch = new ResizeObserver(() => setHeight(Math.max(el.clientHeight, 30)));
    watch.observe(el);
    return () => watch.disconnect();
  }, []);

  // What does not change while a hand drags stands on a sheet of its own.
  // biome-ignore lint/correctness/useExhaustiveDependencies: `lay` and `shown` are made of these
  useLayoutEffect(() => {
    const c = canvas(ground.current, along.width, height);
    if (!c) return;
    const ink = inks();
    const still = shown.lines.filter((line) => !changing.split(" ").includes(line.spec.name));
    drawGround(c, lay, active, ink);
    if (!rows) for (const line of shown.lines) drawCurve(c, lay, line, !still.includes(line));
    for (const line of still) drawKeys(c, lay, line, NOTHING, ink);
    drawAxis(c, lay, active, ink);
    room.current?.setAttribute("data-drawn", String(Number(room.current.dataset.drawn ?? 0) + 1));
  }, [along.left, along.ppf, along.width, height, shown.lines, changing, spans, shared, rows, top, dim]);

  useLayoutEffect(() => {
    const c = canvas(over.current, along.width, height);
    if (!c) return;
    const ink = inks();
    for (const line of shown.tried) {
      if (!rows) drawCurve(c, lay, line);
      drawKeys(c, lay, line, on(line.spec.name), ink);
    }
    for (const line of drawnNow(shown)) {
      const chosen = on(line.spec.name);
      if (chosen.size === 0) continue;
      if (!shown.tried.includes(line)) drawKeys(c, lay, only(line, chosen), chosen, ink);
      drawGrips(c, lay, line, gripsOf(lay, line, chosen, shapedIn(shown.now, line.spec.name)), ink);
    }
    if (held) drawHeld(c, lay, shown.lines, picked, held, ink);
    if (box) {
      c.strokeStyle = ink.slate;
      c.setLineDash([4, 3]);
      c.strokeRect(box.x + 0.5, box.y + 0.5, box.w, box.h);
    }
  });

  /** The key under the hand, of the active channel first. */
  const keyAt = (x: number, y: number): { name: string; frame: number; value: number } | null => {
    let best: { name: string; frame: number; value: number } | null = null;
    let least = NEAR;
    for (const line of [...shown.lines].sort((a, b) => Number(b.active) - Number(a.active))) {
      const name = line.spec.name;
      for (const key of shown.stored[name]?.keys ?? []) {
        const dx = xAt(lay, key.frame) - x;
        if (dx > NEAR) break;
        if (dx < -NEAR) continue;
        const off = Math.hypot(dx, yAt(lay, name, key.value) - y);
        if (off < least - 0.5) {
          least = off;
          best = { name, frame: key.frame, value: key.value };
        }
      }
    }
    return best;
  };

  const gripAt = (x: number, y: number): Grip | null =>
    shown.lines
      .flatMap((line) => gripsOf(lay, line, on(line.spec.name), shapedIn(shown.stored, line.spec.name)))
      .find((grip) => Math.hypot(grip.x - x, grip.y - y) < NEAR) ?? null;

  const lineAt = (x: number, y: number): Line | null => {
    const c = over.current?.getContext("2d");
    if (!c || rows) return null;
    c.save();
    c.setTransform(1, 0, 0, 1, 0, 0);
    c.lineWidth = 12;
    const found = shown.lines.filter((line) => c.isPointInStroke(pathOf(lay, line), x, y));
    c.restore();
    return found.find((line) => line.active) ?? found[0] ?? null;
  };

  const local = (e: { clientX: number; clientY: number }) => {
    const edge = (room.current as HTMLElement).getBoundingClientRect();
    return { x: e.clientX - edge.left, y: e.clientY - edge.top };
  };

  const holdGrip = (grip: Grip): Held => {
    const { thing } = useCurves.getState();
    const key = shown.stored[grip.name].keys.find((k) => k.frame === grip.frame);
    const [fromX, fromY] = [grip.x, grip.y];
    const command = (hand: Hand) => {
      const dx = hand.shift && Math.abs(hand.dy) >= Math.abs(hand.dx) ? 0 : hand.dx;
      const dy = hand.shift && Math.abs(hand.dx) > Math.abs(hand.dy) ? 0 : hand.dy;
      return {
        kind: "keys.handle" as const,
        keys: [{ thing: thing ?? "", channel: grip.name, frame: grip.frame }],
        side: grip.side,
        frames: frameAt(lay, fromX + dx) - grip.frame,
        value: valueAt(lay, grip.name, fromY + dy) - (key?.value ?? 0),
        alone: hand.alt,
      };
    };
    return {
      move: (hand) => tryPicked(command(hand)),
      drop: (hand, moved) => void (moved ? doPicked(command(hand)) : dropTry()),
      cancel: dropTry,
    };
  };

  const holdKeys = (key: { name: string; frame: number; value: number }, e: PointerEvent): Held => {
    const was = useKeysPicked.getState().picked;
    const already = was[key.name]?.includes(key.frame);
    useKeysPicked.setState({ active: key.name });
    if (!already)
      useKeysPicked.setState({
        picked: e.shiftKey
          ? { ...was, [key.name]: [...(was[key.name] ?? []), key.frame] }
          : { [key.name]: [key.frame] },
      });
    const spec = shown.lines.find((line) => line.spec.name === key.name)?.spec;
    const command = (hand: Hand) => {
      const across = Math.abs(hand.dx) >= Math.abs(hand.dy);
      const dx = hand.shift && !across ? 0 : hand.dx;
      const dy = rows || (hand.shift && across) ? 0 : hand.dy;
      const by = hand.alt ? Math.round(dx / along.ppf) : snapFrame(key, Math.round(dx / along.ppf));
      const up = dy === 0 ? 0 : snapValue(key, -dy / perUnit(lay, key.name), hand.alt);
      return { kind: "keys.move" as const, keys: pickedNow(), by, up, measure: spec?.measure };
    };
    return {
      move: (hand) => {
        const asked = command(hand);
        setHeld(asked);
        tryPicked(asked);
      },
      drop: (hand, moved) => {
        setHeld(null);
        if (moved) {
          const asked = command(hand);
          if (asked.by || asked.up) return void doPicked(asked);
          return dropTry();
        }
        if (already && e.shiftKey)
          useKeysPicked.setState((s) => ({
            picked: { ...s.picked, [key.name]: s.picked[key.name].filter((f) => f !== key.frame) },
          }));
        else if (already) useKeysPicked.setState({ picked: { [key.name]: [key.frame] } });
      },
      cancel: () => {
        setHeld(null);
        dropTry();
      },
    };
  };

  /** Frames moved by, so that the key comes to the playhead or to a key of another channel where those are near. */
  const snapFrame = (key: { name: string; frame: number }, by: number): number => {
    const at = key.frame + by;
    const others = shown.names
      .filter((name) => name !== key.name)
      .flatMap((name) => shown.stored[name].keys.map((k) => k.frame).filter((f) => !on(name).has(f)));
    const cues = useDocument.getState().scene?.cues.map((cue) => cue.frame) ?? [];
    const near = [useMoment.getState().stage, ...cues, ...others]
      .filter((f) => Math.abs(f - at) * along.ppf <= SNAP)
      .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
    return near === undefined ? by : near - key.frame;
  };

  /** An amount moved by, so that the key comes to the value of another key on its scale where one is near. */
  const snapValue = (key: { name: string; value: number }, up: number, free: boolean): number => {
    const scale = perUnit(lay, key.name);
    const spec = shown.lines.find((line) => line.spec.name === key.name)?.spec;
    const others = free
      ? []
      : shown.lines
          .filter((line) => line.spec.name === key.name || (shared && line.spec.measure === spec?.measure))
          .flatMap((line) =>
            shown.stored[line.spec.name].keys
              .filter((k) => !on(line.spec.name).has(k.frame))
              .map((k) => k.value),
          );
    const at = key.value + up;
    const near = others
      .filter((v) => Math.abs(v - at) * scale <= SNAP)
      .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
    if (near !== undefined) return near - key.value;
    // Else to what a pixel is worth, so that numbers stay short.
    const digits = Math.max(0, Math.ceil(Math.log10(scale)));
    return Number(at.toFixed(digits)) - key.value;
  };

  const holdBox = (x: number, y: number, e: PointerEvent): Held => {
    const was: Picked = e.shiftKey ? useKeysPicked.getState().picked : {};
    const edge = (room.current as HTMLElement).getBoundingClientRect();
    const boxed = (hand: Hand): Box => {
      const to = { x: hand.x - edge.left, y: hand.y - edge.top };
      return { x: Math.min(x, to.x), y: Math.min(y, to.y), w: Math.abs(to.x - x), h: Math.abs(to.y - y) };
    };
    return {
      move: (hand) => {
        const b = boxed(hand);
        setBox(b);
        const inside: Picked = {};
        for (const name of shown.names) {
          const frames = shown.stored[name].keys
            .filter((k) => {
              const [kx, ky] = [xAt(lay, k.frame), yAt(lay, name, k.value)];
              return kx >= b.x - 1 && kx <= b.x + b.w + 1 && ky >= b.y - 1 && ky <= b.y + b.h + 1;
            })
            .map((k) => k.frame);
          const all = [...new Set([...(was[name] ?? []), ...frames])];
          if (all.length) inside[name] = all;
        }
        useKeysPicked.setState({ picked: inside });
      },
      drop: (_, moved) => {
        setBox(null);
        if (moved) return;
        const line = lineAt(x, y);
        if (line) useKeysPicked.setState({ active: line.spec.name });
        if (!e.shiftKey) useKeysPicked.setState({ picked: {} });
      },
      cancel: () => setBox(null),
    };
  };

  const down = hold((e) => {
    if (e.button !== 0) return null;
    room.current?.focus();
    const { x, y } = local(e);
    const grip = gripAt(x, y);
    if (grip) return holdGrip(grip);
    const key = keyAt(x, y);
    return key ? holdKeys(key, e) : holdBox(x, y, e);
  });

  return (
    <div
      ref={room}
      className="relative h-full min-h-0 overflow-hidden outline-offset-[-2px]"
      role="application"
      aria-label={rows ? "Keys in rows" : "Curves"}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: keys are moved here with the keyboard
      tabIndex={0}
      data-testid="curves"
      data-picked={Object.values(picked).flat().length}
      {...down}
      onKeyDown={(e) => onKeys(e, shown)}
      onDoubleClick={(e) => {
        const { x, y } = local(e);
        const line = lineAt(x, y);
        if (line && !keyAt(x, y)) void keyHere([line.spec.name], Math.round(frameAt(lay, x)));
      }}
      onWheel={(e) => {
        if (rows)
          useKeysPicked.setState({ top: Math.min(Math.max(top + e.deltaY, 0), Math.max(count - height, 0)) });
        else if (e.altKey && active) zoomValues(scaleOf(active.spec, shared), local(e).y / height, e.deltaY);
      }}
    >
      <canvas ref={ground} className="absolute inset-0" />
      <canvas ref={over} className="absolute inset-0" />
    </div>
  );
}

const NOTHING: Set<number> = new Set();

/** Each curve as the hand would leave it. */
const drawnNow = ({ lines, tried }: Shown): Line[] =>
  lines.map((line) => tried.find((t) => t.spec.name === line.spec.name) ?? line);

/** A line with only some of its keys, to be drawn over the others. */
function only(line: Line, frames: Set<number>): Line {
  const kept: number[] = [];
  const { keys } = line.curve;
  for (let i = 0; i < keys.length; i += KEY.size)
    if (frames.has(keys[i])) kept.push(...keys.subarray(i, i + KEY.size));
  return { ...line, curve: { ...line.curve, keys: new Float32Array(kept) } };
}

/** Closer to values or farther from them, about where the hand is. */
function zoomValues(under: string, at: number, delta: number): void {
  useKeysPicked.setState((s) => {
    const span = s.spans[under];
    if (!span) return s;
    const middle = span.high - (span.high - span.low) * at;
    const by = Math.exp(delta * 0.002);
    return {
      spans: {
        ...s.spans,
        [under]: { low: middle + (span.low - middle) * by, high: middle + (span.high - middle) * by },
      },
    };
  });
}

/** A canvas of a size, cleared, with pixels of its own for the screen's. */
function canvas(
  el: HTMLCanvasElement | null,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  // Painted by the processor: thousands of small strokes are not worth sending elsewhere.
  const c = el?.getContext("2d", { willReadFrequently: true });
  if (!el || !c) return null;
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (el.width !== w || el.height !== h) {
    el.width = w;
    el.height = h;
    el.style.width = `${width}px`;
    el.style.height = `${height}px`;
  }
  c.setTransform(ratio, 0, 0, ratio, 0, 0);
  c.clearRect(0, 0, width, height);
  return c;
}
