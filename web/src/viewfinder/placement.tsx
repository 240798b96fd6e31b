import { useEffect, useRef, useState } from "react";
import type { Camera, Layer } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useSeenCamera } from "../store/seen";
import { dropOverlay, endTry } from "../store/sending";
import { useValues } from "../store/values";
import { useView } from "../store/view";
import { useHold } from "../ui/hold";
import { keepPlacement, tryPlacement } from "../verbs/rig";

type Aim = Extract<Layer, { kind: "aim" }>;
/** Within so much of a third or the middle it is put on it, in shares of half the frame. */
const NEAR = 0.035;
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
  if (!shown || playing) return null;
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
          className="absolute rounded-sm border border-dashed border-white/80"
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
        className={`pointer-events-auto absolute h-7 w-7 ${chosen || held ? "" : "opacity-30 hover:opacity-100 focus-visible:opacity-100"} -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none rounded-full border-2 border-white/90 shadow-[0_0_0_1px_rgb(0_0_0/0.5),inset_0_0_0_1px_rgb(0_0_0/0.35)]`}
        // Beyond the frame it waits at its edge.
        style={{ left: percent(within(x)), top: percent(-within(y)) }}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          const step = e.shiftKey ? 0.1 : 0.01;
          void keepPlacement(camera, aim, round(x + by[0] * step), round(y + by[1] * step));
        }}
        {...grip}
      />
    </div>
  );
}
