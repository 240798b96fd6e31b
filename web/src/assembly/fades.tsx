import type { Shot } from "../api/types";
import { useSaid } from "../store/cut-hand";
import { useMoment } from "../store/moment";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain } from "../store/view";
import { useAlong, useFrameHold } from "../ui/strip";
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
      const command = (by: number) => ({
        kind: "cut.edit" as const,
        do: { edit: `fade_${end}` as const, shots: [shot.id], frames: frames(by) },
      });
      const over = () => {
        useSaid.setState({ said: null });
        endTry();
      };
      return {
        move: (by) => {
          const n = frames(by);
          const at = end === "in" ? placed.cut_first + n : placed.cut_last + 1 - n;
          useSaid.setState({ said: { text: `fade ${end} ${n} f`, stopped: false, at } });
          tryOut(command(by), useMoment.getState().stage);
        },
        drop: async (by) => {
          over();
          if (!by) return dropOverlay();
          complain(await send(command(by)));
        },
        cancel: () => {
          over();
          dropOverlay();
        },
      };
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
