import { useState } from "react";
import { showTimecode } from "../api/samples";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { CUT, cutTable, useVersion } from "../store/samples";
import { scrubCut, scrubStage } from "../store/view";

function Clock({
  name,
  value,
  on,
  onType,
}: {
  name: string;
  value: string;
  on: boolean;
  onType?: (n: number) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    const n = Number.parseInt(text ?? "", 10);
    if (!Number.isNaN(n)) onType?.(n);
    setText(null);
  };
  return (
    <div className="flex items-baseline gap-1.5">
      <span className="text-xs text-faint">{name}</span>
      {onType ? (
        <input
          aria-label={`${name} frame`}
          className={`w-14 rounded-sm bg-transparent text-lg font-semibold ${on ? "text-slate" : ""}`}
          value={text ?? value}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setText(e.target.value)}
          onBlur={done}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") setText(null);
          }}
        />
      ) : (
        <span className={`text-lg font-semibold ${on ? "text-slate" : ""}`}>{value}</span>
      )}
    </div>
  );
}

/** The same moment three ways: stage frame, shot frame, cut timecode. */
export function Clocks() {
  const { clock, stage, cut, shot, gap } = useMoment();
  const scene = useDocument((s) => s.scene);
  useVersion(CUT);
  const table = cutTable();
  const placed = table && shot >= 0 ? table.shots[shot] : null;
  const shotName = placed ? scene?.shots.find((s) => s.id === placed.id)?.name : null;
  const inCut = (clock === "cut" || shot >= 0) && table && table.length > 0;
  return (
    <div className="flex items-baseline gap-4" data-testid="clocks">
      <Clock name="Stage" value={gap ? "—" : String(stage)} on={clock === "stage"} onType={scrubStage} />
      <Clock
        name={shotName ? `Shot ${shotName}` : "Shot"}
        value={placed && !gap ? String(cut - placed.cut_first + 1) : "—"}
        on={false}
        onType={placed ? (n) => scrubCut(placed.cut_first + n - 1) : undefined}
      />
      <Clock
        name="Cut"
        value={inCut ? showTimecode(table.timecode[cut], table.drop) : "—"}
        on={clock === "cut"}
      />
    </div>
  );
}
