import { useMemo } from "react";
import type { TakeWhole } from "../../api/types";
import type { Player } from "./player";

/** The frames of a movie from one cut to the next. */
export function shotAbout(whole: TakeWhole, frame: number): { first: number; last: number } {
  const shotAt = (i: number) => {
    const place = whole.movie[i];
    return place === null ? null : whole.frames[place]?.shot;
  };
  let [first, last] = [frame, frame];
  while (first > 0 && shotAt(first - 1) === shotAt(frame)) first -= 1;
  while (last < whole.movie.length - 1 && shotAt(last + 1) === shotAt(frame)) last += 1;
  return { first, last };
}

/** The movie from end to end: its shots, its remarks, and where it stands. */
export function Strip({
  whole,
  player,
  looped,
}: {
  whole: TakeWhole;
  player: Player;
  looped: { first: number; last: number } | null;
}) {
  const count = whole.movie.length;
  const parts = useMemo(() => {
    const out: { first: number; last: number; name: string }[] = [];
    for (let i = 0; i < whole.movie.length; ) {
      const { last } = shotAbout(whole, i);
      const place = whole.movie[i];
      const frame = place === null ? null : whole.frames[place];
      out.push({ first: i, last, name: frame ? frame.shot || `Camera ${frame.camera}` : "" });
      i = last + 1;
    }
    return out;
  }, [whole]);
  const share = (frame: number) => `${(100 * frame) / Math.max(count, 1)}%`;
  return (
    <div className="relative h-8 shrink-0">
      {parts.map((part) => (
        <div
          key={part.first}
          className={`absolute top-1 bottom-1 overflow-hidden border-r border-paper px-1 text-xs leading-6 ${part.name ? "bg-well" : "bg-mat"} ${looped && looped.first <= part.first && part.last <= looped.last ? "outline outline-slate" : ""}`}
          style={{ left: share(part.first), width: share(part.last + 1 - part.first) }}
        >
          {/* The playhead passes behind the name. */}
          <span className="relative z-10 bg-inherit">{part.name}</span>
        </div>
      ))}
      {whole.remarks.map((one) => (
        <span
          key={one.id}
          className={`absolute top-0 h-2 w-0.5 ${one.ticked ? "bg-faint" : "bg-brick"}`}
          style={{ left: share(one.frame + 0.5) }}
        />
      ))}
      <span
        className="pointer-events-none absolute top-0 bottom-0 w-0.5 bg-ink"
        style={{ left: share(player.frame + 0.5) }}
      />
      <input
        type="range"
        aria-label="Frame of the take"
        className="absolute inset-0 h-full w-full cursor-ew-resize opacity-0"
        min={0}
        max={Math.max(count - 1, 0)}
        value={player.frame}
        onChange={(e) => player.go(Number(e.target.value))}
      />
    </div>
  );
}
