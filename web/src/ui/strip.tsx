import { Slider } from "radix-ui";
import {
  createContext,
  type ReactNode,
  type PointerEvent as ReactPointerEvent,
  useContext,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import { useFitted } from "../store/fitted";
import type { Clock } from "../store/moment";
import { pause, useMoment } from "../store/moment";
import { type Hand, type Hold, useHold } from "./hold";

export const NAMES = 136;

/** How frames lie along a strip. */
export interface Along {
  first: number;
  last: number;
  /** The frame at the left edge, and pixels for a frame. */
  left: number;
  ppf: number;
  width: number;
}

const Strip = createContext<Along>({ first: 0, last: 1, left: 0, ppf: 1, width: 1 });
export const useAlong = () => useContext(Strip);
export const xOf = (a: Along, frame: number) => (frame - a.left) * a.ppf;
export const visible = (a: Along, first: number, last: number) =>
  xOf(a, last + 1) > -4 && xOf(a, first) < a.width + 4;

interface Props {
  clock: Clock;
  name: string;
  first: number;
  last: number;
  onScrub: (frame: number) => void;
  label: (frame: number) => string;
  rate: number;
  children: ReactNode;
  className?: string;
  /** Beside its name. */
  more?: ReactNode;
  /** What stands on the ruler itself. */
  flags?: ReactNode;
}

/** A ruler with its lanes: drag the ruler to scrub, wheel to move along, Ctrl-wheel to go closer. */
export function RuledStrip({
  clock,
  name,
  first,
  last,
  onScrub,
  label,
  rate,
  children,
  className = "",
  more,
  flags,
}: Props) {
  const room = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const [zoom, setZoom] = useState(1);
  const [left, setLeft] = useState(first);
  const loop = useMoment((s) => (s.loop?.clock === clock ? s.loop : null));
  const on = useMoment((s) => s.clock === clock);
  const count = Math.max(last - first + 1, 1);
  const ppf = (width / count) * zoom;
  const most = Math.max(first, last + 1 - width / ppf);
  const from = Math.min(Math.max(left, first), most);
  const along: Along = { first, last, left: from, ppf, width };

  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setWidth(Math.max(e.contentRect.width - NAMES, 50)));
    if (room.current) watch.observe(room.current);
    return () => watch.disconnect();
  }, []);

  // Some frames are asked to be in sight, with a little room to either side.
  const asked = useFitted((s) => (s.clock === clock ? s.turn : 0));
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each asking
  useEffect(() => {
    if (asked === 0) return;
    const { frames } = useFitted.getState();
    const shown = frames ? (frames.last - frames.first + 1) * 1.08 : count;
    const next = Math.min(Math.max(count / shown, 1), Math.max(1, (count * 30) / width));
    setZoom(next);
    setLeft(frames ? (frames.first + frames.last + 1 - count / next) / 2 : first);
  }, [asked]);

  useEffect(() => {
    const el = room.current;
    const wheel = (e: WheelEvent) => {
      if (e.ctrlKey) {
        e.preventDefault();
        const box = (el as HTMLElement).getBoundingClientRect();
        const at = e.clientX - box.left - NAMES;
        const frame = from + at / ppf;
        const next = Math.min(
          Math.max(zoom * Math.exp(-e.deltaY * 0.002), 1),
          Math.max(1, (count * 30) / width),
        );
        setZoom(next);
        setLeft(frame - at / ((width / count) * next));
      } else if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
        e.preventDefault();
        setLeft(from + (e.deltaX || e.deltaY) / ppf);
      }
    };
    el?.addEventListener("wheel", wheel, { passive: false });
    return () => el?.removeEventListener("wheel", wheel);
  });

  useLayoutEffect(() => {
    const place = () => {
      const now = useMoment.getState();
      const frame = clock === "cut" ? now.cut : now.stage;
      const x = (frame - from) * ppf;
      if (!head.current) return;
      head.current.style.transform = `translateX(${NAMES + x}px)`;
      head.current.style.width = `${Math.max(ppf, 1.5)}px`;
      head.current.style.visibility = x < -1 || x > width ? "hidden" : "visible";
    };
    place();
    return useMoment.subscribe(place);
  });

  const steps = [1, 2, 5, rate / 2, rate, rate * 2, rate * 5, rate * 10, rate * 30, rate * 60, rate * 300];
  const step = Math.max(1, Math.round(steps.find((n) => n * ppf > 74) ?? rate * 600));
  const small = step > 1 && (step / 4) * ppf > 5 ? Math.max(1, Math.round(step / 4)) : step;
  const ticks: number[] = [];
  for (
    let f = first + Math.ceil((from - first) / small) * small;
    f <= Math.min(last, from + width / ppf);
    f += small
  )
    ticks.push(f);

  return (
    <Strip.Provider value={along}>
      <div
        ref={room}
        className={`relative flex min-h-0 flex-col overflow-hidden ${className}`}
        data-testid={`strip-${clock}`}
      >
        <div className="flex h-6 shrink-0 border-b border-line bg-well">
          <div
            className={`flex shrink-0 items-center px-2 text-xs ${on ? "font-semibold text-slate" : "text-faint"}`}
            style={{ width: NAMES }}
          >
            <span className="flex-1">{name}</span>
            {more}
          </div>
          <div className="relative flex-1 overflow-hidden" data-testid={`ruler-${clock}`}>
            {loop && (
              <div
                className="absolute inset-y-0 bg-slate/25"
                style={{ left: xOf(along, loop.first), width: (loop.last - loop.first + 1) * ppf }}
              />
            )}
            {ticks.map((f) => (
              <div key={f} className="pointer-events-none absolute bottom-0" style={{ left: xOf(along, f) }}>
                <div className={`border-l border-faint ${(f - first) % step === 0 ? "h-6" : "h-1.5"}`} />
                {(f - first) % step === 0 && (
                  <span className="absolute bottom-1 left-1 text-xs whitespace-nowrap text-faint">
                    {label(f)}
                  </span>
                )}
              </div>
            ))}
            <Scrubber clock={clock} name={name} label={label} onScrub={onScrub} />
            {flags}
          </div>
        </div>
        <div className="min-h-0 flex-1 overflow-hidden">{children}</div>
        <div
          ref={head}
          className={`pointer-events-none absolute inset-y-0 left-0 z-10 border-l-2 ${on ? "border-slate bg-slate/20" : "border-slate/40 bg-slate/5"}`}
          data-testid={`playhead-${clock}`}
        />
      </div>
    </Strip.Provider>
  );
}

/** The frame under the playhead, dragged or stepped along the ruler. */
function Scrubber({ clock, name, label, onScrub }: Pick<Props, "clock" | "name" | "label" | "onScrub">) {
  const along = useAlong();
  const { first, last, ppf } = along;
  // While it plays the playhead moves by itself, sixty times a second: the ruler is not drawn again for it.
  const now = useMoment((s) => (s.playing ? null : s[clock]));
  const at = Math.min(Math.max(now ?? first, first), last);
  return (
    <Slider.Root
      min={first}
      max={Math.max(last, first + 1)}
      value={[at]}
      onValueChange={([frame]) => {
        pause();
        onScrub(Math.min(frame, last));
      }}
      className="absolute inset-y-0 flex touch-none cursor-ew-resize items-end"
      // From the middle of the first frame to the middle of the last, so that a frame is what is pointed at.
      style={{ left: xOf(along, first + 0.5), width: Math.max(last - first, 1) * ppf }}
    >
      <Slider.Track className="absolute inset-y-0" style={{ left: -ppf / 2, right: -ppf / 2 }} />
      <Slider.Thumb
        aria-label={`${name} ruler`}
        aria-valuetext={now === null ? "playing" : label(at) || String(at)}
        className={`block h-2 w-2 rounded-full ${now === null ? "opacity-0" : "bg-slate"}`}
      />
    </Slider.Root>
  );
}

const Height = createContext(22);
/** How tall the lanes inside it are, pixels. */
export const LaneHeight = Height.Provider;

/** How tall a lane is here, pixels. */
export const useLaneHeight = (): number => useContext(Height);

/** One lane: its name on the left, its contents along the frames. */
export function Lane({
  name,
  children,
  height,
  on,
}: {
  name: ReactNode;
  children: ReactNode;
  height?: number;
  on?: boolean;
}) {
  const usual = useContext(Height);
  return (
    <div
      className={`flex border-b border-line/60 ${on ? "bg-slate-wash/60" : ""}`}
      style={{ height: height ?? usual }}
    >
      <div
        className="flex shrink-0 items-center overflow-hidden border-r border-line px-2 text-xs"
        style={{ width: NAMES }}
      >
        {name}
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden">{children}</div>
    </div>
  );
}

/** Something held along a strip, in whole frames since it was taken; it never moved where `by` is null. */
export interface FrameHeld {
  move(by: number, hand: Hand): void;
  drop(by: number | null, hand: Hand): void;
  cancel(): void;
}

/** A hold in whole frames of the strip it is in. */
export function useFrameHold(): (make: (e: ReactPointerEvent) => FrameHeld) => ReturnType<Hold> {
  const hold = useHold();
  const { ppf } = useAlong();
  return (make) =>
    hold((e) => {
      if (e.button !== 0) return null;
      const held = make(e);
      let last = 0;
      return {
        move: (hand) => {
          const by = Math.round(hand.dx / ppf);
          if (by !== last) held.move(by, hand);
          last = by;
        },
        drop: (hand, moved) => held.drop(moved ? Math.round(hand.dx / ppf) : null, hand),
        cancel: held.cancel,
      };
    });
}
