import type { ReactNode } from "react";
import { hue, onHue } from "../store/hues";

export interface Bar {
  id: string;
  letter: string | null;
  frames: number;
  said: string;
}

/** A cut as a bar of letters, as long as its frames are of the longest one beside it. */
export function ProposalStrip({
  bars,
  of,
  on,
}: {
  bars: readonly Bar[];
  of: number;
  on: boolean;
}): ReactNode {
  return (
    <span
      className={`flex h-5 overflow-hidden rounded-[3px] ${on ? "" : "opacity-70"}`}
      style={{ width: `${(100 * bars.reduce((sum, bar) => sum + bar.frames, 0)) / Math.max(of, 1)}%` }}
    >
      {bars.map((bar) => (
        <span
          key={bar.id}
          title={bar.said}
          className="min-w-px overflow-hidden border-r border-sheet text-center text-xs leading-5 font-semibold"
          style={{
            flex: `${bar.frames} 0 0`,
            background: bar.letter ? hue(bar.letter) : "var(--line)",
            color: bar.letter ? onHue(bar.letter) : "var(--faint)",
          }}
        >
          {bar.letter}
        </span>
      ))}
    </span>
  );
}
