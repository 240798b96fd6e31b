import type { ReactNode } from "react";
import { useDocument } from "../store/document";
import { CutStrip } from "./cut-strip";
import { StageStrip } from "./stage-strip";
import { Transport } from "./transport";

/** When it is seen: the cut over the action, each under its own ruler, always at the same moment. */
export function Assembly({ curves }: { curves: ReactNode }) {
  const [top, bottom] = (useDocument((s) => s.scene?.rate) ?? "24/1").split("/").map(Number);
  const rate = Math.round(top / bottom);
  return (
    <section aria-label="Assembly" className="flex h-full min-h-0 flex-col bg-sheet">
      <Transport />
      <div className="shrink-0">
        <CutStrip rate={rate} />
      </div>
      <StageStrip rate={rate} curves={curves} />
    </section>
  );
}
