import { useDocument } from "../store/document";
import { poseOf } from "../store/loose";
import { goStage, useMoment } from "../store/moment";
import { rowOf } from "../store/samples";
import { send, turnBack } from "../store/sending";
import { complain, select, useView } from "../store/view";
import { made } from "./made";

export async function removeSelected(leaveGap = false): Promise<void> {
  const { kind, ids } = useView.getState();
  if (!kind || ids.length === 0) return;
  if (kind === "shot") {
    complain(await send({ kind: "shot.delete", shot: ids[0], leave_gap: leaveGap }));
    return;
  }
  const used = useDocument.getState().scene?.shots.some((s) => kind === "camera" && s.camera === ids[0]);
  if (used) useView.setState({ asking: { what: "delete-camera", camera: ids[0] } });
  else complain(await send({ kind: "things.delete", ids }));
}

export async function duplicateSelected(): Promise<void> {
  const { kind, ids } = useView.getState();
  if (!kind || kind === "shot" || ids.length === 0) return;
  const copies = ids.map(() => made(kind.slice(0, 3)));
  if (complain(await send({ kind: "things.duplicate", ids, copies }))) select(kind, copies);
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
  for (const thing of [...shown.figures, ...shown.movers]) {
    const wanted = kind === null ? "stature" in thing || shown.figures.length === 0 : ids.includes(thing.id);
    const row = wanted ? rowOf(thing.id, stage) : null;
    if (row) places.push([row[0], row[1] + 0.9, row[2], 1.1]);
  }
  for (const piece of shown.pieces) {
    if (!ids.includes(piece.id)) continue;
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
