import type { Shot } from "../api/types";
import { useAlong, useFrameHold } from "../ui/strip";
import { dragFrames } from "./edit-drag";
import type { Placed } from "./shot-block";

/** Fades of a shot, drawn on it; their corners are dragged. */
export function Fades({ shot, placed, selected }: { shot: Shot; placed: Placed; selected: boolean }) {
  const along = useAlong();
  const hold = useFrameHold();
  const length = placed.cut_last - placed.cut_first + 1;
  const drag = (end: "in" | "out") =>
    hold(() => {
      const was = end === "in" ? shot.fade_in : shot.fade_out;
      const frames = (by: number) => Math.min(Math.max(was + (end === "in" ? by : -by), 0), length);
      return dragFrames({
        edit: (by) => ({ edit: `fade_${end}`, shots: [shot.id], frames: frames(by) }),
        says: (by) => `fade ${end} ${frames(by)} f`,
        at: (by) => (end === "in" ? placed.cut_first + frames(by) : placed.cut_last + 1 - frames(by)),
      });
    });
  return (["in", "out"] as const).map((end) => {
    const frames = (end === "in" ? shot.fade_in : shot.fade_out) ?? 0;
    const width = frames * along.ppf;
    const side = end === "in" ? "left" : "right";
    return (
      <div key={end} className="contents">
        {frames > 0 && (
          <div
            className="pointer-events-none absolute inset-y-0 -z-1"
            style={{
              [side]: 0,
              width,
              background: `linear-gradient(to ${end === "in" ? "bottom right" : "bottom left"}, ${shot.fade_colour} 49.5%, transparent 50%)`,
              opacity: 0.5,
            }}
            data-fade={`${shot.name}-${end}`}
          />
        )}
        <div
          className={`absolute top-0 z-1 size-2.5 cursor-ew-resize rounded-full border border-white bg-ink/70 ${frames > 0 || selected ? "" : "opacity-0 hover:opacity-100"}`}
          style={{ [side]: Math.max(width - 5, 0) }}
          title={`Drag to fade ${end}`}
          data-fade-end={`${shot.name}-${end}`}
          {...drag(end)}
        />
      </div>
    );
  });
}
