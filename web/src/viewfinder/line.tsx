import { useOperate } from "../operating/state";
import { useSaid } from "../store/cut-hand";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { useUnsaved } from "../store/unsaved";
import { cameraSeen, useView } from "../store/view";
import { Notices } from "../ui/notices";
import { lineOf } from "../verbs/rig";
import { UnsavedBar } from "./unsaved-bar";

/** One line under the picture, always there: what is unsaved, what the next click does, else what the hand can do. */
export function Line() {
  const unsaved = useUnsaved((s) => s.unsaved);
  const picking = useView((s) => s.picking);
  const through = useView((s) => s.through);
  const trying = useDocument((s) => s.overlay?.sentence);
  const refused = useDocument((s) => s.refused);
  const ends = useDocument(
    (s) => s.overlay?.command.kind === "thing.put" && s.overlay.command.keep === "end",
  );
  const stage = useMoment((s) => s.stage);
  const slate = useMoment((s) => s.shot) >= 0;
  // While it is recorded, the mouse is the operator's hand.
  const operating = useOperate((s) => s.phase !== "ready");
  // Curves want the room: then the line is there when it has something to say, over the picture's lower edge.
  const over = usePreferences((s) => s.below !== "lanes");
  const told = useView((s) => s.notices.length > 0 && s.asking === null);
  const joint = useSaid((s) => s.joint);
  const rover = through === "rover";
  const hand = rover || cameraSeen() !== null;
  if (over && !told && !picking && !refused && !trying && !unsaved) return null;
  return (
    <div
      className={`flex h-8 items-center border-t border-line text-xs text-faint ${told ? "" : "px-3"} ${over ? "absolute inset-x-0 bottom-10 z-20 bg-paper" : ""}`}
      data-testid="line"
    >
      {told ? (
        <Notices />
      ) : picking ? (
        <p className="w-full rounded bg-slate px-2 py-0.5 text-center text-sheet">
          {picking === "focus"
            ? "Click what to focus on, here or on the plan."
            : picking === "rack"
              ? `Click what to rack to: it is reached at ${stage}.`
              : `${lineOf(picking)}, here or on the plan.`}{" "}
          Esc leaves it.
        </p>
      ) : refused ? (
        <p className="truncate text-brick" role="alert">
          {refused}
        </p>
      ) : trying ? (
        <p className="truncate" data-testid="trying">
          {trying} · {ends && "Shift moves all of it · "}Esc cancels
        </p>
      ) : unsaved ? (
        <UnsavedBar />
      ) : joint ? (
        <p className="truncate">
          <b>A D</b> roll the cut · <b>Q E</b> the end before it · <b>Z C</b> the beginning after it ·{" "}
          <b>, .</b> the sound's cut · <b>P</b> plays over it · <b>O</b> dissolves · <b>← →</b> to the next
          cut
        </p>
      ) : operating ? null : hand ? (
        <p className="truncate" title={WHOLE}>
          {rover && "Body: drag moves, Shift lifts, Ctrl turns · "}
          <b>drag</b> looks · <b>Shift</b> slides · <b>right</b> goes round
          {!rover && (
            <>
              {" "}
              · <b>right Shift</b> rolls
            </>
          )}{" "}
          · <b>wheel</b> nearer · <b>Alt</b> finer · <b>Ctrl</b> straight
        </p>
      ) : (
        <p>{slate ? "A slate. Give it a camera on its card, or cut to one." : "The cut is black here."}</p>
      )}
    </div>
  );
}

const WHOLE =
  "Drag to look about; Shift-drag to slide along and up; right-drag to go round what is under the pointer; Shift-right-drag to roll; wheel to go nearer. Alt makes any of them ten times finer, Ctrl keeps to the longer direction.";
