import { ask, client } from "../api/client";
import type { CutNotes, NoteOut } from "../api/types";
import { useDocument } from "../store/document";
import { pause, useMoment } from "../store/moment";
import { useNoted } from "../store/noted";
import { send } from "../store/sending";
import { complain, notice, scrubCut, scrubStage, useView } from "../store/view";
import { newId } from "./new-id";

/** A note of the cut with its shot, and its place in the list. */
export interface Noted {
  note: NoteOut;
  shot: string;
  key: string;
}

/** All notes of the cut in the order of its shots: of the joint before each first, then the heaviest of its frames. */
export const listed = (found: CutNotes): Noted[] =>
  found.shots.flatMap(({ shot, cut, frames }) =>
    [...cut, ...frames].map((note) => ({ note, shot, key: `${shot} ${note.kind} ${note.first}` })),
  );

/** Watch the cut where a note is at its worst, and mark it in the picture. */
export function goToNote({ note, key }: Noted): void {
  if (note.cut === null) return;
  pause();
  scrubCut(note.cut);
  useNoted.setState({ pointed: note, at: key });
}

/** To the next note of the cut, or the last one: from the one that was gone to, else from the playhead. */
export async function goNote(by: 1 | -1): Promise<void> {
  const { id } = useDocument.getState();
  if (id === null) return;
  const { data, problem } = await ask(
    client.GET("/api/scenes/{scene_id}/notes", { params: { path: { scene_id: id } } }),
  );
  if (problem) return void complain(problem);
  const all = listed(data as CutNotes);
  if (!all.length) return notice("There is nothing to note in the cut.", "", false);
  const now = all.findIndex((one) => one.key === useNoted.getState().at);
  const { cut } = useMoment.getState();
  const ahead = all.findIndex((one) => (one.note.cut ?? -1) >= cut);
  const from = now >= 0 ? now + by : by > 0 ? Math.max(ahead, 0) : ahead < 0 ? all.length - 1 : ahead - 1;
  const next = all[from];
  if (!next) return notice("No more notes that way.", "", false);
  goToNote(next);
}

/** The last frame before a cut and the first after it, beside each other. */
export function bothFrames(note: NoteOut): void {
  const { scene } = useDocument.getState();
  const [before, after] = note.of.map((id) => scene?.shots.find((shot) => shot.id === id));
  if (!before?.camera || !after?.camera) return;
  pause();
  scrubStage(before.stage.last);
  useView.setState({
    wall: true,
    held: [before.camera, after.camera],
    heldLater: after.stage.first - before.stage.last,
  });
}

/** How far a note is put aside: for its frames or its joint, for all of its camera, or for the whole scene. */
export type Far = "here" | "camera" | "scene";

/** Have a note not said again. */
export async function putAside(note: NoteOut, far: Far, why = ""): Promise<boolean> {
  const done = await send({
    kind: "note.aside",
    id: newId("aside"),
    note: note.kind,
    camera: far === "scene" || note.joint ? null : note.of[0],
    joint: far === "scene" || !note.joint ? null : note.of,
    frames: far === "here" && !note.joint ? { first: note.first, last: note.last } : null,
    why,
  });
  useNoted.setState({ pointed: null });
  return complain(done);
}
