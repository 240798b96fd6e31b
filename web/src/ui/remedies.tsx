import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { remediesOf } from "../api/queries";
import type { NoteOut } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { dropOverlay, endTry, sendAll, together, tryOut } from "../store/sending";
import { complain } from "../store/view";

const back = () => {
  endTry();
  dropOverlay();
};

/** What takes a note away: seen while it is pointed at, and taken with a press. */
export function Remedies({ note, shot }: { note: NoteOut; shot?: string }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const camera = useDocument((s) => (note.camera ? itemOf(s.scene, "cameras", note.of[0]) : undefined));
  const stage = useMoment((s) => s.stage);
  const { data, isFetching } = useQuery({
    ...remediesOf(id, note, shot, revision),
    enabled: !camera?.locked,
  });
  useEffect(() => back, []);
  if (camera?.locked) return null;
  if (!data?.length)
    return (
      <p className="text-xs text-faint">
        {isFetching ? "Trying what helps…" : "No small change takes it away."}
      </p>
    );
  return (
    <ul className="flex flex-wrap gap-1" aria-label="What takes it away">
      {data.map((one) => (
        <li key={one.sentence}>
          <button
            type="button"
            className="rounded-sm border border-line bg-sheet px-1.5 py-0.5 text-left text-xs hover:border-slate hover:bg-slate-wash focus-visible:bg-slate-wash"
            title="Point at it to preview it, press to apply it"
            onMouseEnter={() => tryOut(together(one.commands), stage)}
            // A list that opens under a press puts the focus here by itself: only keys try with it.
            onFocus={(e) =>
              e.currentTarget.matches(":focus-visible") && tryOut(together(one.commands), stage)
            }
            onMouseLeave={back}
            onBlur={back}
            onClick={() => {
              back();
              void sendAll(one.commands).then(complain);
            }}
          >
            {one.sentence}
          </button>
        </li>
      ))}
    </ul>
  );
}
