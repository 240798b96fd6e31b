import { X } from "lucide-react";
import { type Notice, putAway, useView } from "../store/view";

/** One message: what happened, what to do, and what can be done with a press. */
function Message({ notice, more }: { notice: Notice; more: number }) {
  const { id, text, remedy, wrong, notKept, ways } = notice;
  return (
    <div
      role={wrong ? "alert" : "status"}
      className={`flex min-w-0 flex-1 items-center gap-2 px-3 text-xs leading-4 text-ink ${wrong ? "bg-brick-wash" : "bg-slate-wash"}`}
    >
      <p className="line-clamp-2 min-w-0 flex-1" title={`${text} ${remedy}`}>
        {wrong && !notKept && <span className="mr-1.5 font-semibold text-brick">Not done.</span>}
        {text} {remedy && <span className="text-faint">{remedy}</span>}
      </p>
      {ways.map((way) => (
        <button
          type="button"
          key={way.label}
          className="shrink-0 rounded-[3px] border border-line bg-sheet px-2 py-0.5 font-semibold hover:bg-well"
          onClick={() => {
            putAway(id);
            way.act();
          }}
        >
          {way.label}
        </button>
      ))}
      {more > 0 && <span className="text-faint">+{more}</span>}
      <button type="button" aria-label="Close this message" className="shrink-0" onClick={() => putAway(id)}>
        <X size={14} />
      </button>
    </div>
  );
}

/** Messages in the line under the picture, the newest in front; never over a picture. */
export function Notices() {
  const notices = useView((s) => s.notices);
  const last = notices.at(-1);
  if (!last) return null;
  return (
    <div className="flex h-full min-w-0 flex-1" data-testid="notices">
      <Message notice={last} more={notices.length - 1} />
    </div>
  );
}

/** The same over a dialog, which covers the line under the picture. */
export function NoticesOver() {
  const asking = useView((s) => s.asking !== null);
  const any = useView((s) => s.notices.length > 0);
  if (!asking || !any) return null;
  return (
    <div className="fixed inset-x-0 bottom-3 z-60 grid justify-items-center">
      <div className="flex min-h-9 max-w-2xl rounded border border-line bg-sheet shadow-lg">
        <Notices />
      </div>
    </div>
  );
}
