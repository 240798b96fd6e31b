import { ask, client } from "../api/client";
import type { CutNotes, NoteOut } from "../api/types";
import { useDocument } from "../store/document";
import { pause, useMoment } from "../store/moment";
import { useNoted } from "../store/noted";
import { placedShots } from "../store/samples";
import { send } from "../store/sending";
import { complain, notice, scrubCut } from "../store/view";
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

/** Where in the cut a note is at its worst. */
export function cutFrame({ note, shot }: Noted): number | null {
  if (note.joint) return note.worst;
  const placed = placedShots().find((one) => one.id === shot);
  const own = useDocument.getState().scene?.shots.find((one) => one.id === shot);
  return placed && own ? placed.cut_first + note.worst - own.stage.first : null;
}

/** Watch the cut where a note is at its worst, and mark it in the picture. */
export function goToNote(one: Noted): void {
  const frame = cutFrame(one);
  if (frame === null) return;
  pause();
  scrubCut(frame);
  useNoted.setState({ pointed: one.note, at: one.key });
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
  const ahead = all.findIndex((one) => (cutFrame(one) ?? -1) >= cut);
  const from = now >= 0 ? now + by : by > 0 ? Math.max(ahead, 0) : ahead < 0 ? all.length - 1 : ahead - 1;
  const next = all[from];
  if (!next) return notice("No more notes that way.", "", false);
  goToNote(next);
}

/** How far a note is put aside: for its frames or its joint, for all of its camera, or for the whole scene. */
export type Far = "here" | "camera" | "scene";

/** Have a note not said again. */
export async function putAside(note: NoteOut, far: Far, why = ""): Promise<boolean> {
  const { scene } = useDocument.getState();
  const camera = scene?.cameras.find((one) => one.letter === note.camera)?.id ?? null;
  const shots = note.joint?.map((name) => scene?.shots.find((one) => one.name === name)?.id ?? "") ?? null;
  const done = await send({
    kind: "note.aside",
    id: newId("aside"),
    note: note.kind,
    camera: far === "scene" ? null : camera,
    joint: far === "scene" ? null : shots,
    frames: far === "here" && !note.joint ? { first: note.first, last: note.last } : null,
    why,
  });
  useNoted.setState({ pointed: null });
  return complain(done);
}
