import { create } from "zustand";
import { rowAt } from "../api/samples";
import type { Camera, Command, Pose } from "../api/types";
import { POSE } from "../api/types";
import { itemOf, useDocument } from "./document";
import { channelsOf, keyedIn } from "./keys";
import { useMoment } from "./moment";
import { cameraColumns, moverColumns, rowOf, touch } from "./samples";
import { dropOverlay, endTry, preview, send, tryOut } from "./sending";
import { complain, scrubStage } from "./view";

/** What a hand changed of a pose: only this is sent. */
export type Touched = Partial<Pose>;

/** A keyed camera moved by hand and not kept: what was changed, at which frame. */
interface Unsaved extends Put {
  camera: string;
  frame: number;
  row: Float32Array | null;
}

/** What was touched, and what was touched after a look while the camera watches something. */
interface Put {
  touched: Touched;
  after: Touched | null;
}

export const useUnsaved = create<{ unsaved: Unsaved | null }>(() => ({ unsaved: null }));

const slot = (scene: number) => `heron-loose-${scene}`;

useUnsaved.subscribe(({ unsaved }) => {
  const { id } = useDocument.getState();
  if (id === null) return;
  if (unsaved) sessionStorage.setItem(slot(id), JSON.stringify({ ...unsaved, row: null }));
  else sessionStorage.removeItem(slot(id));
});

/** Whether a camera has keys that move it: on its own place and direction, or on its layers' numbers. */
export const keyed = (camera: Camera | undefined) =>
  !!camera &&
  (keyedIn(camera, POSE) || camera.layers.some((layer) => channelsOf(layer).some(([, c]) => c.keys.length)));

/** What a camera watches at a frame, metres on the stage; null where nothing it watches turns it. */
export function subjectOf(camera: string, frame: number): { x: number; y: number; z: number } | null {
  const row = cameraRow(camera, frame);
  const at = cameraColumns();
  if (!row || row[at.watches] < 0.5) return null;
  return { x: row[at.subject_x], y: row[at.subject_y], z: row[at.subject_z] };
}

/** The sample row to draw a camera with: where it was put by hand at this frame, else as baked. */
export function cameraRow(camera: string, frame: number): Float32Array | null {
  const { unsaved } = useUnsaved.getState();
  const dragged = useDocument.getState().overlay?.samples[camera];
  if (unsaved && unsaved.camera === camera && unsaved.frame === frame && unsaved.row && !dragged)
    return unsaved.row;
  return rowOf(camera, frame);
}

/** Where a camera or mover stands and looks, as drawn. */
export function poseOf(thing: string, frame: number): Pose | null {
  const row = cameraRow(thing, frame);
  if (!row) return null;
  const isCamera = itemOf(useDocument.getState().shown, "cameras", thing) !== undefined;
  const at = isCamera ? cameraColumns() : moverColumns();
  // Samples are 32-bit: seven digits read as they were typed.
  return Object.fromEntries(POSE.map((name) => [name, Number(row[at[name]].toPrecision(7))])) as Pose;
}

/** Be here at this frame; what is not touched is not named. */
const placing = (camera: Camera, frame: number, { touched, after }: Put): Command => ({
  kind: "thing.put",
  thing: camera.id,
  frame,
  keep: keyed(camera) ? "key" : "rest",
  ...touched,
  ...(after && { after }),
});

/** What is unsaved on a camera at a frame already, with more touched. */
function withUnsaved(camera: string, frame: number, touched: Touched): Put {
  const { unsaved } = useUnsaved.getState();
  if (unsaved?.camera !== camera || unsaved.frame !== frame) return { touched, after: null };
  const looks = (one: Touched) => "pan" in one || "tilt" in one;
  // Moved after a look, what is watched stays where the look has put it.
  if (subjectOf(camera, frame) && looks(unsaved.touched) && !looks(touched))
    return { touched: unsaved.touched, after: { ...unsaved.after, ...touched } };
  return { touched: { ...unsaved.touched, ...unsaved.after, ...touched }, after: null };
}

/** Show a camera somewhere while a hand moves it. */
export function tryPose(id: string, touched: Touched): void {
  const camera = itemOf(useDocument.getState().scene, "cameras", id);
  const frame = useMoment.getState().stage;
  if (camera) tryOut(placing(camera, frame, withUnsaved(id, frame, touched)), frame);
}

/** Leave a camera where the hand let go: kept at once if it has no keys, else unsaved until it is decided. */
export async function leavePose(id: string, touched: Touched, seen?: number): Promise<boolean> {
  const camera = itemOf(useDocument.getState().scene, "cameras", id);
  const frame = useMoment.getState().stage;
  endTry();
  if (!camera) return false;
  if (!keyed(camera) || camera.locked) {
    if (camera.locked) dropOverlay();
    return complain(await send(placing(camera, frame, { touched, after: null }), seen));
  }
  await setUnsaved(camera, frame, withUnsaved(id, frame, touched));
  return true;
}

async function setUnsaved(camera: Camera, frame: number, put: Put): Promise<void> {
  const { data, problem } = await preview(placing(camera, frame, put), frame);
  dropOverlay();
  if (!complain(problem) || !data) return;
  const found = data.samples[camera.id];
  // Put back exactly where the keys have it, it is not unsaved.
  useUnsaved.setState({
    unsaved: { camera: camera.id, frame, ...put, row: found ? rowAt(found, frame) : null },
  });
  touch([camera.id]);
}

/** Bring back what was unsaved before a reload. */
export async function recallUnsaved(): Promise<void> {
  const { id, scene } = useDocument.getState();
  const text = id === null ? null : sessionStorage.getItem(slot(id));
  if (!text) return;
  const was = JSON.parse(text) as Unsaved;
  const camera = itemOf(scene, "cameras", was.camera);
  if (camera && keyed(camera) && was.touched)
    await setUnsaved(camera, was.frame, { touched: was.touched, after: was.after ?? null });
}

export async function keepUnsaved(keep: "pose" | "path"): Promise<void> {
  const { unsaved } = useUnsaved.getState();
  if (!unsaved) return;
  const { camera, frame, touched, after } = unsaved;
  const more = after ? { after } : {};
  const problem = await send({ kind: "thing.put", thing: camera, frame, keep, ...touched, ...more });
  if (complain(problem)) useUnsaved.setState({ unsaved: null });
  touch([camera]);
}

/** Cut to where it was put by hand, by keys: the old view is held up to the frame before. */
export async function jumpUnsaved(later: "stay" | "move"): Promise<void> {
  const { unsaved } = useUnsaved.getState();
  const pose = unsaved && poseOf(unsaved.camera, unsaved.frame);
  if (!unsaved || !pose) return;
  const { camera, frame } = unsaved;
  if (!complain(await send({ kind: "camera.jump", camera, frame, to: pose, later }))) return;
  useUnsaved.setState({ unsaved: null });
  touch([camera]);
}

export function dropUnsaved(): void {
  const { unsaved } = useUnsaved.getState();
  useUnsaved.setState({ unsaved: null });
  if (unsaved) touch([unsaved.camera]);
}

/** Set a key on a camera at this frame: where it was put by hand, or where it is. */
export async function setKey(id: string): Promise<void> {
  const { unsaved } = useUnsaved.getState();
  const frame = useMoment.getState().stage;
  if (unsaved && unsaved.camera === id && unsaved.frame === frame) return keepUnsaved("pose");
  complain(await send({ kind: "keys.here", thing: id, frame }));
}

export function goUnsaved(): void {
  const { unsaved } = useUnsaved.getState();
  if (unsaved) scrubStage(unsaved.frame);
}
