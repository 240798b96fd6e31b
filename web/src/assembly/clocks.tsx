import { useRef, useState } from "react";
import { showTimecode } from "../api/samples";
import type { CutTable } from "../api/types";
import { shotsPlayed, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { CUT, cutTable, useVersion } from "../store/samples";
import { timecodeFrame } from "../store/timecode";
import { notice, scrubCut, typeStage } from "../store/view";

function Clock({
  name,
  value,
  on,
  onType,
  wide,
}: {
  name: string;
  value: string;
  on: boolean;
  onType?: (text: string) => void;
  wide?: boolean;
}) {
  const [text, setText] = useState<string | null>(null);
  const dropped = useRef(false);
  const done = () => {
    if (text !== null && text !== value) onType?.(text.trim());
    setText(null);
  };
  return (
    <div className="flex items-baseline gap-1.5">
      <span className="text-xs text-faint">{name}</span>
      {onType ? (
        <input
          aria-label={wide ? `${name} timecode` : `${name} frame`}
          className={`${wide ? "w-28" : "w-14"} rounded-sm bg-transparent text-lg font-semibold ${on ? "text-slate" : ""}`}
          value={text ?? value}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => {
            if (dropped.current) setText(null);
            else done();
            dropped.current = false;
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") {
              dropped.current = true;
              e.currentTarget.blur();
            }
          }}
        />
      ) : (
        <span className={`text-lg font-semibold ${on ? "text-slate" : ""}`}>{value}</span>
      )}
    </div>
  );
}

/** A frame that was typed; what is none is said. */
function frame(text: string, go: (n: number) => void): void {
  if (/^-?\d+$/.test(text)) go(Number(text));
  else notice("That is not a frame number.", "Type a whole number.");
}

/** Go to a timecode of the cut that was typed. */
function goTimecode(table: CutTable, text: string): void {
  const at = timecodeFrame(table, text, useMoment.getState().cut);
  if (at >= 0) {
    scrubCut(at);
    return;
  }
  const labels = table.timecode;
  const [first, last] = [labels[0], labels[labels.length - 1]].map((t) => showTimecode(t, table.drop));
  notice("The cut has no such timecode.", `It runs from ${first} to ${last}.`);
}

/** The same moment three ways: stage frame, shot frame, cut timecode. */
export function Clocks() {
  const { clock, stage, cut, shot, gap } = useMoment();
  const shots = useDocument(shotsPlayed);
  useVersion(CUT);
  const table = cutTable();
  const placed = table && shot >= 0 ? table.shots[shot] : null;
  const shotName = placed ? shots.find((s) => s.id === placed.id)?.name : null;
  const inCut = (clock === "cut" || shot >= 0) && table && table.length > 0;
  return (
    <div className="flex items-baseline gap-4" data-testid="clocks">
      <Clock
        name="Stage"
        value={gap ? "—" : String(stage)}
        on={clock === "stage"}
        onType={(text) => frame(text, typeStage)}
      />
      <Clock
        name={shotName ? `Shot ${shotName}` : "Shot"}
        value={placed ? String(cut - placed.cut_first + 1) : "—"}
        on={false}
        onType={placed ? (text) => frame(text, (n) => scrubCut(placed.cut_first + n - 1)) : undefined}
      />
      <Clock
        name="Cut"
        value={inCut ? showTimecode(table.timecode[cut], table.drop) : "—"}
        on={clock === "cut"}
        wide
        onType={inCut && table ? (text) => goTimecode(table, text) : undefined}
      />
    </div>
  );
}
