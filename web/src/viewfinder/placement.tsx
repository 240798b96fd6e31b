import { useEffect, useRef, useState } from "react";
import type { Camera, Layer } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useSeenCamera } from "../store/seen";
import { dropOverlay, endTry } from "../store/sending";
import { useValues } from "../store/values";
import { useView } from "../store/view";
import { useHold } from "../ui/hold";
import { nudge } from "../ui/nudge";
import { keepPlacement, tryPlacement } from "../verbs/rig";

type Aim = Extract<Layer, { kind: "aim" }>;
/** Within so much of a third or the middle it is put on it, in shares of half the frame. */
const NEAR = 0.035;
const STEPPING_MS = 700;
const LINES = [-1 / 3, 0, 1 / 3];

const snapped = (at: number, free: boolean) =>
  free ? at : (LINES.find((line) => Math.abs(line - at) < NEAR) ?? at);
const within = (at: number) => Math.min(Math.max(at, -0.97), 0.97);
const round = (n: number) => Math.round(n * 1000) / 1000;

/** Where each watched thing sits in the frame: a ring to drag it by, and the zone in which the camera keeps calm. */
export function Placements() {
  const camera = useSeenCamera();
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  const shown = itemOf(scene, "cameras", camera?.id ?? null);
  const playing = useMoment((s) => s.playing);
  // The cut is watched, not worked on.
  const cut = useView((s) => s.through === "cut");
  if (!shown || playing || cut) return null;
  const there = shown.layers.filter(
    (l): l is Aim => l.kind === "aim" && !l.off && (l.first ?? stage) <= stage && stage <= (l.last ?? stage),
  );
  return there.slice(-1).map((aim) => <Placement key={aim.id} camera={shown} aim={aim} stage={stage} />);
}

function Placement({ camera, aim, stage }: { camera: Camera; aim: Aim; stage: number }) {
  const box = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<[number, number] | null>(null);
  const values = useValues(camera, aim);
  const dragging = useRef(false);
  /** Where the last steps of the arrows have put it, and when: what the core says may still be on its way. */
  const stepping = useRef<{ at: number; value: [number, number] }>({ at: 0, value: [0, 0] });
  // What was let go stays where it was put until the core says where it is.
  // biome-ignore lint/correctness/useExhaustiveDependencies: new numbers are the reason to run
  useEffect(() => {
    if (!dragging.current) setHeld(null);
  }, [values.x, values.y, stage]);
  const chosen = useView((s) => s.kind === "camera" && s.ids.includes(camera.id));
  const hold = useHold();
  const known: [number, number] | null = "x" in values ? [values.x, values.y] : null;
  const here = held ?? known;
  const shut = camera.locked || aim.locked;
  const at = (dx: number, dy: number, free: boolean, from: [number, number]): [number, number] => {
    const frame = box.current?.getBoundingClientRect();
    if (!frame) return from;
    return [
      round(snapped(from[0] + (dx / frame.width) * 2, free)),
      round(snapped(from[1] - (dy / frame.height) * 2, free)),
    ];
  };
  const [x, y] = here ?? [0, 0];
  const grip = hold((e) => {
    if (e.button !== 0 || shut) return null;
    const from: [number, number] = [x, y];
    dragging.current = true;
    return {
      move: ({ dx, dy, alt }) => {
        const next = at(dx, dy, alt, from);
        setHeld(next);
        tryPlacement(camera, aim, ...next);
      },
      drop: async ({ dx, dy, alt }, moved) => {
        dragging.current = false;
        endTry();
        const next = at(dx, dy, alt, from);
        const elsewhere = moved && (next[0] !== from[0] || next[1] !== from[1]);
        if (!elsewhere) dropOverlay();
        if (!elsewhere || !(await keepPlacement(camera, aim, ...next))) setHeld(null);
      },
      cancel: () => {
        dragging.current = false;
        setHeld(null);
        endTry();
        dropOverlay();
      },
    };
  });
  if (!here) return null;
  const [wide, high] = [values.wide ?? aim.wide.rest, values.high ?? aim.high.rest];
  const percent = (share: number) => `${50 + 50 * share}%`;
  return (
    <div ref={box} className="pointer-events-none absolute inset-0" data-testid="placement">
      {held &&
        LINES.filter((line) => line !== 0).map((line) => (
          <div key={line}>
            <div className="absolute inset-y-0 w-px bg-white/60" style={{ left: percent(line) }} />
            <div className="absolute inset-x-0 h-px bg-white/60" style={{ top: percent(line) }} />
          </div>
        ))}
      {aim.how === "calm" && (
        <div
          className="absolute rounded-[40%] bg-white/10 shadow-[0_0_14px_6px_rgb(255_255_255/0.22)]"
          style={{
            left: percent(x - wide / 2),
            top: percent(-y - high / 2),
            width: `${wide * 50}%`,
            height: `${high * 50}%`,
          }}
          data-testid="calm-zone"
        />
      )}
      <button
        type="button"
        aria-label={`Placement of what camera ${camera.letter} watches: ${x.toFixed(2)} across, ${y.toFixed(2)} up`}
        title="Drag what is watched to where it should sit; Alt keeps off thirds and middle"
        disabled={shut}
        className={`group/aim pointer-events-auto absolute h-9 w-9 ${chosen || held ? "" : "opacity-30 hover:opacity-100 focus-visible:opacity-100"} -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none`}
        // Beyond the frame it waits at its edge.
        style={{ left: percent(within(x)), top: percent(-within(y)) }}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          const step = e.shiftKey ? 0.1 : 0.01;
          void nudge(`${aim.id} placement`, [by[0] * step, by[1] * step], async ([right, up]) => {
            const lately = performance.now() - stepping.current.at < STEPPING_MS;
            const [fromX, fromY] = lately ? stepping.current.value : [x, y];
            const value: [number, number] = [round(fromX + right), round(fromY + up)];
            const kept = await keepPlacement(camera, aim, ...value);
            stepping.current = { at: kept ? performance.now() : 0, value };
            return kept;
          });
        }}
        // What is not a drag of the mark is for the picture under it.
        onPointerDownCapture={(e) => e.button !== 0 && toPicture(e.nativeEvent, "pointerdown")}
        onWheel={(e) => toPicture(e.nativeEvent, "wheel")}
        onContextMenu={(e) => e.preventDefault()}
        {...grip}
      >
        <AimMark />
      </button>
    </div>
  );
}

/** Hand an event on to the picture that lies under a mark. */
function toPicture(event: PointerEvent | WheelEvent, kind: "pointerdown" | "wheel"): void {
  const canvas = document
    .elementsFromPoint(event.clientX, event.clientY)
    .find((one) => one.tagName === "CANVAS");
  const copy = kind === "wheel" ? new WheelEvent(kind, event) : new PointerEvent(kind, event);
  canvas?.dispatchEvent(copy);
}

/** Four short ticks round the place, so that a face there stays free. */
function AimMark() {
  const ticks = "M18 0 V6 M18 30 V36 M0 18 H6 M30 18 H36";
  return (
    <svg viewBox="0 0 36 36" className="h-full w-full" aria-hidden="true">
      <path d={ticks} stroke="rgb(0 0 0 / 0.55)" strokeWidth={3.5} />
      <path d={ticks} stroke="white" strokeWidth={1.8} />
    </svg>
  );
}
