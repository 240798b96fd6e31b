import { useEffect, useRef, useState } from "react";
import { hue } from "../store/hues";
import { Letter } from "../ui/badge";
import { type Hand, useHold } from "../ui/hold";
import { edit, goTo, pause, type ReelOut, useFilm } from "./film";

const MOST_PPF = 24;

/** All scenes and shots in one row; a press goes there, twice opens the shot in its scene. */
export function Strip({ onOpen }: { onOpen: (frame: number) => void }) {
  const film = useFilm((s) => s.film);
  const frame = useFilm((s) => s.frame);
  const chosen = useFilm((s) => s.reel);
  const { from, ppf } = useFilm();
  const box = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(0);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const seen = new ResizeObserver(() => setWide(element.clientWidth));
    seen.observe(element);
    return () => seen.disconnect();
  }, []);
  const length = Math.max(film?.length ?? 0, 1);
  const fits = wide / length;
  const scale = Math.max(ppf || fits, fits);
  const first = Math.min(from, Math.max(length - wide / scale, 0));
  const x = (at: number) => (at - first) * scale;
  const frameAt = (e: { clientX: number }) =>
    Math.floor(first + (e.clientX - (box.current?.getBoundingClientRect().left ?? 0)) / scale);

  // A wheel that zooms must not scroll the page, and React's own listeners cannot prevent that.
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
        useFilm.setState({ from: Math.max(first + (e.deltaX || e.deltaY) / scale, 0) });
        return;
      }
      const under = (e.clientX - element.getBoundingClientRect().left) / scale;
      const now = Math.min(Math.max(scale * 1.0015 ** -e.deltaY, fits), MOST_PPF);
      useFilm.setState({ ppf: now, from: Math.max(first + under - (under * scale) / now, 0) });
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [first, scale, fits]);

  const scrub = (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    pause();
    goTo(frameAt(e));
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  return (
    <div
      ref={box}
      className="relative h-24 cursor-pointer overflow-hidden border-y border-line bg-well select-none"
      data-testid="film-strip"
      onPointerDown={scrub}
      onPointerMove={(e) => e.buttons === 1 && goTo(frameAt(e))}
      onDoubleClick={(e) => onOpen(frameAt(e))}
      title="Press or drag to go there; press twice to open the shot in its scene. The wheel zooms, with Shift it scrolls."
    >
      {film?.reels.map((reel, place) =>
        reel.film ? (
          <Reel
            key={reel.id}
            reel={reel}
            place={place}
            left={x(reel.film[0])}
            width={(reel.film[1] - reel.film[0] + 1) * scale}
            scale={scale}
            chosen={reel.id === chosen}
          />
        ) : null,
      )}
      <div className="pointer-events-none absolute inset-y-0 w-0.5 bg-slate" style={{ left: x(frame) }} />
    </div>
  );
}

function Reel({
  reel,
  place,
  left,
  width,
  scale,
  chosen,
}: {
  reel: ReelOut;
  place: number;
  left: number;
  width: number;
  scale: number;
  chosen: boolean;
}) {
  const begin = reel.film?.[0] ?? 0;
  const hold = useHold();
  const [drag, setDrag] = useState<{ end: "first" | "last"; by: number; roll: boolean } | null>(null);
  const trim = (end: "first" | "last") =>
    hold((e) => {
      if (e.button !== 0) return null;
      pause();
      const by = (hand: Hand) => Math.round(hand.dx / scale);
      return {
        move: (hand) => setDrag({ end, by: by(hand), roll: hand.shift }),
        drop: (hand, moved) => {
          setDrag(null);
          if (moved && by(hand))
            void edit({ edit: "end", reel: reel.id, end, by: by(hand), roll: hand.shift });
        },
        cancel: () => setDrag(null),
      };
    });
  return (
    <div className="absolute inset-y-0" style={{ left, width }} data-reel={reel.name}>
      <button
        type="button"
        className={`absolute inset-x-0 top-0 flex h-7 items-center gap-2 overflow-hidden border-r border-line px-2 text-left text-sm whitespace-nowrap ${chosen ? "bg-slate text-sheet" : "bg-paper hover:bg-sheet"}`}
        aria-pressed={chosen}
        onPointerDown={(e) => e.stopPropagation()}
        onDoubleClick={(e) => e.stopPropagation()}
        onClick={() => useFilm.setState({ reel: chosen ? null : reel.id })}
      >
        <b>{place + 1}</b> {reel.name}
        {reel.put_away && <span className="rounded bg-brick px-1 text-xs text-white">in the trash</span>}
      </button>
      {reel.shots.map((shot) => (
        <div
          key={shot.id}
          className="absolute top-7 bottom-0 overflow-hidden border border-line bg-sheet"
          style={{
            left: (shot.film[0] - begin) * scale,
            width: Math.max((shot.film[1] - shot.film[0] + 1) * scale - 1, 1),
          }}
        >
          <div className="h-1" style={{ background: shot.letter ? hue(shot.letter) : "transparent" }} />
          <div className="flex items-center gap-1.5 px-1.5 pt-1 text-sm whitespace-nowrap">
            <b>{shot.name}</b>
            {shot.letter ? (
              <Letter letter={shot.letter} size={18} />
            ) : (
              <span className="text-faint">slate</span>
            )}
          </div>
          <div className="px-1.5 text-xs text-faint">{shot.film[1] - shot.film[0] + 1} f</div>
        </div>
      ))}
      {(["first", "last"] as const).map((end) => (
        <div
          key={end}
          className={`absolute inset-y-0 w-2 hover:bg-slate/40 ${end === "first" ? "left-0 cursor-w-resize" : "right-0 cursor-e-resize"}`}
          title="Drag to trim: the rest of the film follows. Shift rolls the cut between the two scenes."
          data-trim={`${reel.name}-${end}`}
          {...trim(end)}
        />
      ))}
      {drag && (
        <div
          className="pointer-events-none absolute inset-y-0 z-1 w-0.5 bg-ochre"
          style={{ left: (drag.end === "first" ? 0 : width) + drag.by * scale }}
        >
          <span
            className={`absolute top-8 rounded bg-slate px-1.5 text-sm whitespace-nowrap text-white ${drag.end === "first" ? "left-1" : "right-1"}`}
            role="status"
          >
            {drag.roll ? "rolls " : ""}
            {drag.by > 0 ? "+" : "−"}
            {Math.abs(drag.by)} f
          </span>
        </div>
      )}
    </div>
  );
}
