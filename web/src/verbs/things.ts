import { useDocument } from "../store/document";
import { goStage, useMoment } from "../store/moment";
import { rowOf } from "../store/samples";
import { lastSentence, preview, send, turnBack } from "../store/sending";
import { poseOf } from "../store/unsaved";
import { complain, lookThrough, notice, select, useView } from "../store/view";
import { duplicateShots } from "./cutting";
import { newId } from "./new-id";

export async function removeSelected(leaveGap = false): Promise<void> {
  const { kind, ids } = useView.getState();
  if (!kind || ids.length === 0) return;
  if (kind === "shot") {
    complain(await send({ kind: "cut.edit", do: { edit: leaveGap ? "lift" : "ripple_delete", shots: ids } }));
    return;
  }
  if (kind === "camera") return notice("Delete a camera on its card.", "Press the bin button there.", false);
  await deleteThings(ids);
}

/** Delete things; what was let go with them is said. */
export async function deleteThings(ids: string[], asked = false): Promise<void> {
  if (!asked) {
    // What it would take with it is said before, where it takes anything.
    useDocument.setState((s) => ({ busy: s.busy + 1 }));
    const asking = preview({ kind: "things.delete", ids }, useMoment.getState().stage);
    const { data, problem } = await asking.finally(() => useDocument.setState((s) => ({ busy: s.busy - 1 })));
    if (problem) return void complain(problem);
    if (data?.sentence.includes("; ")) {
      useView.setState({ asking: { what: "delete", ids, sentence: data.sentence } });
      return;
    }
  }
  if (!complain(await send({ kind: "things.delete", ids }))) return;
  const [did, ...more] = lastSentence().split("; ");
  if (more.length)
    notice(
      `${did}.`,
      `${more.join("; ")}.`.replace(/^./, (c) => c.toUpperCase()),
      false,
    );
}

export async function duplicateSelected(): Promise<void> {
  const { kind, ids } = useView.getState();
  if (!kind || ids.length === 0) return;
  if (kind === "shot") return duplicateShots(ids);
  const copies = ids.map(() => newId(kind.slice(0, 3)));
  if (!complain(await send({ kind: "things.duplicate", ids, copies }))) return;
  const { through } = useView.getState();
  // Who looked through the camera goes on with the copy.
  if (typeof through === "object" && ids.includes(through.camera))
    lookThrough({ camera: copies[ids.indexOf(through.camera)] });
  select(kind, copies);
}

export async function undo(): Promise<void> {
  complain(await turnBack("undo"));
}

export async function redo(): Promise<void> {
  complain(await turnBack("redo"));
}

/** Frame what is selected in the rover's view; with nothing selected, all the figures. */
export function frameSelected(): void {
  const { kind, ids, rover } = useView.getState();
  const { shown } = useDocument.getState();
  if (!shown) return;
  const stage = useMoment.getState().stage;
  const places: number[][] = [];
  for (const camera of shown.cameras) {
    const pose = kind === "camera" && ids.includes(camera.id) ? poseOf(camera.id, stage) : null;
    if (pose) places.push([pose.x, pose.y, pose.z, 1.2]);
  }
  // A part is where what it is part of is.
  const meant = ids.map((id) => shown.pieces.find((piece) => piece.id === id)?.part_of ?? id);
  for (const thing of [...shown.figures, ...shown.movers]) {
    const wanted =
      kind === null ? "stature" in thing || shown.figures.length === 0 : meant.includes(thing.id);
    const row = wanted ? rowOf(thing.id, stage) : null;
    if (row) places.push([row[0], row[1] + 0.9, row[2], 1.1]);
  }
  for (const piece of shown.pieces) {
    if (!ids.includes(piece.id) || piece.part_of) continue;
    const size = Math.hypot(piece.width, piece.depth, piece.height) / 2;
    places.push([piece.x, piece.base + piece.height / 2, piece.z, size]);
  }
  if (places.length === 0) return;
  const mid = [0, 1, 2].map((i) => places.reduce((sum, p) => sum + p[i], 0) / places.length);
  const size = Math.max(...places.map((p) => Math.hypot(p[0] - mid[0], p[1] - mid[1], p[2] - mid[2]) + p[3]));
  useView.setState({
    through: "rover",
    rover: { ...rover, x: mid[0], y: mid[1], z: mid[2], distance: Math.max(2, size * 3.4) },
  });
  if (useMoment.getState().clock === "cut") goStage(stage);
}
