import { X } from "lucide-react";
import { putAway, useView } from "../store/view";

/** Refusals and news, where the work is. */
export function Notices() {
  const notices = useView((s) => s.notices);
  return (
    <div className="absolute inset-x-0 top-2 z-20 grid place-items-center gap-1.5 px-4">
      {notices.map((n) => (
        <div
          key={n.id}
          role={n.wrong ? "alert" : "status"}
          className={`flex max-w-xl items-start gap-3 rounded border bg-sheet px-3 py-2 text-sm text-ink shadow-md ${n.wrong ? "border-brick" : "border-line"}`}
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
