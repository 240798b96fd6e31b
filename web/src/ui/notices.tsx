import { X } from "lucide-react";
import { putAway, useView } from "../store/view";

/** Refusals and news, in the bar over the desk: never over a picture. */
export function Notices() {
  const notices = useView((s) => s.notices);
  return (
    <div className="absolute inset-x-0 top-1 z-50 grid justify-items-center gap-1" data-testid="notices">
      {notices.map((n) => (
        <div
          key={n.id}
          role={n.wrong ? "alert" : "status"}
          className={`flex max-w-xl items-start gap-2 rounded border bg-sheet px-2.5 py-1 text-sm text-ink shadow-md motion-safe:animate-[arrive_160ms_ease-out] ${n.wrong ? "border-brick" : "border-line"}`}
        >
          <p>
            {n.wrong && !n.notKept && <span className="mr-1.5 font-semibold text-brick">Not done.</span>}
            {n.text} {n.remedy && <span className="text-faint">{n.remedy}</span>}
          </p>
          <button type="button" aria-label="Put this away" className="mt-0.5" onClick={() => putAway(n.id)}>
            <X size={15} />
          </button>
        </div>
      ))}
    </div>
  );
}
