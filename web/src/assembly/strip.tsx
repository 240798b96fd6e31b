import {
  createContext,
  type ReactNode,
  useContext,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import type { Clock } from "../store/moment";
import { pause, useMoment } from "../store/moment";

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

  const scrub = (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    const el = e.currentTarget as HTMLElement;
    el.setPointerCapture(e.pointerId);
    pause();
    const to = (x: number) => onScrub(Math.floor(from + (x - el.getBoundingClientRect().left) / ppf));
    to(e.clientX);
    const move = (ev: PointerEvent) => to(ev.clientX);
    const up = () => {
      el.removeEventListener("pointermove", move);
      el.removeEventListener("pointerup", up);
    };
    el.addEventListener("pointermove", move);
    el.addEventListener("pointerup", up);
  };

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
            {name}
          </div>
          <div
            className="relative flex-1 cursor-ew-resize overflow-hidden"
            onPointerDown={scrub}
            role="presentation"
            data-testid={`ruler-${clock}`}
          >
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
          </div>
        </div>
        <div className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto">{children}</div>
        <div
          ref={head}
          className={`pointer-events-none absolute inset-y-0 left-0 z-10 border-l-2 ${on ? "border-slate bg-slate/20" : "border-slate/40 bg-slate/5"}`}
          data-testid={`playhead-${clock}`}
        />
      </div>
    </Strip.Provider>
  );
}

/** One lane: its name on the left, its contents along the frames. */
export function Lane({
  name,
  children,
  height = 22,
  on,
}: {
  name: ReactNode;
  children: ReactNode;
  height?: number;
  on?: boolean;
}) {
  return (
    <div
      className={`flex border-b border-line/60 ${on ? "bg-slate-wash/60" : ""}`}
      // Lanes out of sight are neither laid out nor painted.
      style={{ height, contentVisibility: "auto", containIntrinsicHeight: height }}
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

/**
 * Follow a drag along a strip in whole frames; `done` hears the last number, or null if it never moved.
 * Escape lets go with nothing done: then it hears 0.
 */
export function dragFrames(
  e: React.PointerEvent,
  ppf: number,
  move: (frames: number, ev: PointerEvent) => void,
  done: (frames: number | null, ev: PointerEvent) => void,
): void {
  if (e.button !== 0) return;
  e.stopPropagation();
  const start = e.clientX;
  let moved = false;
  let last = 0;
  const onMove = (ev: PointerEvent) => {
    if (!moved && Math.abs(ev.clientX - start) < 3) return;
    moved = true;
    const frames = Math.round((ev.clientX - start) / ppf);
    if (frames !== last) move(frames, ev);
    last = frames;
  };
  const end = () => {
    window.removeEventListener("pointermove", onMove);
    window.removeEventListener("pointerup", onUp);
    window.removeEventListener("keydown", onKey, true);
  };
  const onUp = (ev: PointerEvent) => {
    end();
    done(moved ? last : null, ev);
  };
  const onKey = (ev: KeyboardEvent) => {
    if (ev.key !== "Escape") return;
    ev.stopImmediatePropagation();
    end();
    done(0, e.nativeEvent);
  };
  window.addEventListener("pointermove", onMove);
  window.addEventListener("pointerup", onUp);
  window.addEventListener("keydown", onKey, true);
}
