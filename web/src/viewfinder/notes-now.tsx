import { useQuery } from "@tanstack/react-query";
import { StickyNote } from "lucide-react";
import { notesOfCamera } from "../api/queries";
import type { Camera, NoteOut } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useNoted } from "../store/noted";
import { useSeenCamera } from "../store/seen";
import { toggleSide } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Popped } from "../ui/menu";
import { Remedies } from "../ui/remedies";
import { putAside } from "../verbs/notes";

/** So many are said at once; the rest are a number. */
const WORST = 3;

/** What is said of a camera's picture at this moment, the worst first; nothing while it plays. */
function useNotesNow(camera: string | null): NoteOut[] {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const there = useDocument((s) => s.scene?.cameras.some((one) => one.id === camera) ?? false);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({
    ...notesOfCamera(id, camera ?? "", revision),
    enabled: there && !playing,
  });
  if (!there || playing) return [];
  return data?.filter((one) => one.first <= stage && stage <= one.last) ?? [];
}

/** How many notes there are at this moment; pressed, the worst three with what can be done. */
export function NotesNow({ camera }: { camera: Camera }) {
  const notes = useNotesNow(camera.id);
  if (!notes.length) return null;
  return (
    <Popped
      label="Notes of this frame"
      trigger={
        <button
          type="button"
          className="flex items-center gap-1 text-sm whitespace-nowrap text-ochre hover:underline"
          title={notes
            .slice(0, WORST)
            .map((one) => one.sentence)
            .join("\n")}
          data-testid="notes-now"
        >
          <StickyNote size={13} /> {count(notes.length, "note")}
        </button>
      }
    >
      <ul
        className="flex w-80 flex-col gap-2 p-1.5"
        onMouseLeave={() => useNoted.setState({ pointed: null })}
      >
        {notes.slice(0, WORST).map((note) => (
          <li
            key={`${note.kind}${note.first}`}
            className="flex flex-col gap-1 rounded-sm px-1 py-0.5 text-sm hover:bg-slate-wash"
            onMouseEnter={() => useNoted.setState({ pointed: note })}
          >
            <span>{note.sentence}</span>
            <Remedies note={note} />
            <span className="flex items-center gap-2 text-xs text-faint">
              <span className="flex-1">
                {note.first}–{note.last}
              </span>
              <Button onClick={() => void putAside(note, "here")}>Put aside</Button>
            </span>
          </li>
        ))}
        <li className="flex items-center gap-2 text-sm text-faint">
          <span className="flex-1">{notes.length > WORST && `${notes.length - WORST} more, less heavy`}</span>
          <Button onClick={() => toggleSide("notes", true)}>All notes…</Button>
        </li>
      </ul>
    </Popped>
  );
}

/** Marks of the worst three at the frame's edge, as near to their places as it is; the one pointed at has a ring there. */
export function NoteMarks() {
  const camera = useSeenCamera();
  const notes = useNotesNow(camera?.id ?? null);
  const pointed = useNoted((s) => s.pointed);
  // What is tried is another picture.
  const trying = useDocument((s) => s.overlay !== null);
  if (trying) return null;
  const ring =
    pointed?.at &&
    notes.find((one) => one.kind === pointed.kind && one.first <= pointed.worst && pointed.worst <= one.last);
  return (
    <div className="absolute inset-0" data-testid="note-marks">
      {notes
        .slice(0, WORST)
        .map((note) => note.at && <Tick key={`${note.kind}${note.first}`} at={note.at} />)}
      {ring && pointed.at && <Ring at={pointed.at} />}
    </div>
  );
}

const percent = (share: number) => `${50 + 50 * share}%`;

/** A short mark at the nearest edge. */
function Tick({ at: [x, y] }: { at: [number, number] }) {
  const upright = 1 - Math.abs(y) <= 1 - Math.abs(x);
  const edge = upright ? (y > 0 ? "top" : "bottom") : x > 0 ? "right" : "left";
  return (
    <span
      className={`absolute bg-ochre shadow-[0_0_0_1px_rgb(255_255_255/0.7)] ${upright ? "h-2 w-[3px] -translate-x-1/2" : "h-[3px] w-2 -translate-y-1/2"}`}
      style={{ [edge]: 0, ...(upright ? { left: percent(x) } : { top: percent(-y) }) }}
      data-mark={edge}
    />
  );
}

function Ring({ at: [x, y] }: { at: [number, number] }) {
  const within = (share: number) => Math.min(Math.max(share, -0.94), 0.94);
  return (
    <span
      className="absolute h-8 w-8 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-white shadow-[0_0_0_1.5px_rgb(0_0_0/0.55),inset_0_0_0_1.5px_rgb(0_0_0/0.55)]"
      style={{ left: percent(within(x)), top: percent(-within(y)) }}
      data-testid="note-ring"
    />
  );
}
