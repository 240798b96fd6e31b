import type { Command, Scene } from "../api/types";
import { reveal } from "../plan/space";
import { itemOf, send, turnBack, useDocument } from "../store/document";
import { poseOf } from "../store/loose";
import { goStage, pause, useMoment } from "../store/moment";
import { cameraSeen, complain, lookThrough, notice, select, useView } from "../store/view";
import { roverPose } from "../viewfinder/frame-of";

const made = (prefix: string) => `${prefix}-${crypto.randomUUID().slice(0, 12).replaceAll("-", "")}`;

/** Make a camera from the view in the picture, then ask what it sees. */
export async function newCamera(): Promise<void> {
  const seen = cameraSeen();
  const scene = useDocument.getState().scene;
  const like = itemOf(scene, "cameras", seen);
  const pose = (seen && poseOf(seen, useMoment.getState().stage)) || roverPose();
  const id = made("cam");
  const number = (scene?.cameras.length ?? 0) + 1;
  // Without a camera to be like, the server gives the lens.
  const lens = like ? { lens: like.lens } : {};
  const add = {
    kind: "camera.add",
    id,
    name: `View ${number}`,
    pose,
    focal: like?.focal.rest ?? 35,
    ...lens,
  };
  const problem = await send(add as Command);
  if (!complain(problem)) return;
  lookThrough({ camera: id });
  reveal(useDocument.getState().scene as Scene, pose.x, pose.z);
  useView.setState({ asking: { what: "name-camera", camera: id } });
}

/** The camera meant by a verb: the selected one, else the one looked through. */
export function meantCamera(): string | null {
  const { kind, ids } = useView.getState();
  return kind === "camera" ? ids[0] : cameraSeen();
}

/** Put a camera on the assembly: the loop's range if one is set on the stage, else the scene's. */
export async function addShot(camera: string): Promise<void> {
  const { loop } = useMoment.getState();
  const scene = useDocument.getState().scene;
  const stage = loop?.clock === "stage" ? { first: loop.first, last: loop.last } : scene?.frames;
  const id = made("shot");
  const problem = await send({ kind: "shot.add", id, camera, ...(stage ? { stage } : {}) });
  if (complain(problem)) select("shot", [id]);
}

/** Cut here to a camera; in the cut at its frame, on the stage at the first shot that shows this frame. */
export async function cutHere(camera: string | null): Promise<void> {
  pause();
  const { cut, clock, shot } = useMoment.getState();
  if (clock === "stage" && shot < 0) {
    notice("This stage frame is in no shot.", "Go into the cut, or add a shot first.");
    return;
  }
  const id = made("shot");
  const problem = await send({ kind: "shot.cut", id, cut_frame: cut, ...(camera ? { camera } : {}) });
  if (complain(problem)) {
    select("shot", [id]);
    useMoment.setState({ shot: shot + 1 });
  }
}

export async function removeSelected(leaveGap = false): Promise<void> {
  const { kind, ids } = useView.getState();
  if (!kind || ids.length === 0) return;
  if (kind === "camera") {
    const scene = useDocument.getState().scene;
    const shots = scene?.shots.filter((s) => s.camera === ids[0]) ?? [];
    if (shots.length) useView.setState({ asking: { what: "delete-camera", camera: ids[0] } });
    else complain(await send({ kind: "camera.delete", camera: ids[0] }));
  } else if (kind === "figure") complain(await send({ kind: "figure.delete", figure: ids[0] }));
  else if (kind === "mover") complain(await send({ kind: "mover.delete", mover: ids[0] }));
  else if (kind === "piece") complain(await send({ kind: "pieces.delete", ids }));
  else complain(await send({ kind: "shot.delete", shot: ids[0], leave_gap: leaveGap }));
}

export async function duplicateSelected(): Promise<void> {
  const { kind, ids } = useView.getState();
  if (kind === "camera") {
    const id = made("cam");
    if (complain(await send({ kind: "camera.duplicate", camera: ids[0], id }))) select("camera", [id]);
  } else if (kind === "figure") {
    const id = made("fig");
    if (complain(await send({ kind: "figure.duplicate", figure: ids[0], id }))) select("figure", [id]);
  } else if (kind === "piece") {
    const id = made("set");
    const copied = await send({ kind: "pieces.duplicate", ids, id, dx: 0.5, dz: 0.5 });
    if (complain(copied))
      select(
        "piece",
        ids.map((_, i) => `${id}-${i}`),
      );
  }
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
    const pose = wanted ? poseOf(thing.id, stage) : null;
    if (pose) places.push([pose.x, pose.y + 0.9, pose.z, 1.1]);
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
