import { useQuery } from "@tanstack/react-query";
import { notesOfCamera, notesOfCut } from "../api/queries";
import type { Camera } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useNoted } from "../store/noted";
import { scrubStage, useView } from "../store/view";
import { useAlong, visible, xOf } from "../ui/strip";
import { goToNote, listed } from "../verbs/notes";

/** A lane has room for so many, the heaviest. */
const MOST = 3;

/** What is noted at the cut to a shot, while the list of notes is open: a mark on the joint, pressed to go there. */
export function JointNotes({ shot, at }: { shot: string; at: number }) {
  const along = useAlong();
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const open = useView((s) => s.side === "notes");
  const { data } = useQuery({ ...notesOfCut(id, revision), enabled: open });
  if (!open || !data) return null;
  const found = listed(data).filter((one) => one.shot === shot && one.note.joint);
  if (!found.length) return null;
  const said = found.map(({ note }) => note.sentence).join("\n");
  return (
    <button
      type="button"
      className="pointer-events-auto absolute bottom-1 z-2 h-4 min-w-4 rounded-r-[3px] bg-ochre px-1 text-xs leading-4 font-semibold text-white"
      style={{ left: xOf(along, at) }}
      title={said}
      aria-label={`Noted at this cut: ${said}`}
      data-noted={shot}
      onClick={() => goToNote(found[0])}
    >
      {found.length}
    </button>
  );
}

/** Where notes of a camera begin and end, as thin bars at the head of its lane: pressed, to the worst frame. */
export function LaneNotes({ camera, chosen }: { camera: Camera; chosen: boolean }) {
  const along = useAlong();
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const playing = useMoment((s) => s.playing);
  const shown = chosen && !playing;
  const { data } = useQuery({ ...notesOfCamera(id, camera.id, revision), enabled: shown });
  if (!shown || !data) return null;
  return data
    .filter((one) => one.aside === null)
    .slice(0, MOST)
    .map((one, i) => ({ one, i }))
    .filter(({ one }) => visible(along, one.first, one.last))
    .map(({ one, i }) => (
      <button
        type="button"
        key={`${one.kind}${one.first}`}
        tabIndex={-1}
        className="absolute h-[3px] bg-ochre/70 hover:h-1.5 hover:bg-ochre"
        style={{
          left: xOf(along, one.first),
          width: Math.max((one.last - one.first + 1) * along.ppf, 3),
          top: 1 + 4 * i,
        }}
        title={`${one.sentence} (${one.first}–${one.last})`}
        aria-label={`${one.sentence} ${one.first} to ${one.last}`}
        data-lane-note={one.kind}
        onMouseEnter={() => useNoted.setState({ pointed: one })}
        onMouseLeave={() => useNoted.setState({ pointed: null })}
        onClick={() => scrubStage(one.worst)}
      />
    ));
}
