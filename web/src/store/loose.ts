import { create } from "zustand";
import { ask, client } from "../api/client";
import type { Camera, Command, Pose, PreviewOut } from "../api/types";
import { POSE } from "../api/types";
import { dropOverlay, endTry, itemOf, rowOf, send, tryOut, useDocument } from "./document";
import { useMoment } from "./moment";
import { complain, scrubStage } from "./view";

/** A keyed camera moved by hand and not kept: where it was put, at which frame. */
interface Loose {
  camera: string;
  frame: number;
  pose: Pose;
  row: Float32Array | null;
}

export const useLoose = create<{ loose: Loose | null }>(() => ({ loose: null }));

const slot = (scene: number) => `heron-loose-${scene}`;

useLoose.subscribe(({ loose }) => {
  const { id } = useDocument.getState();
  if (id === null) return;
  if (loose) sessionStorage.setItem(slot(id), JSON.stringify({ ...loose, row: null }));
  else sessionStorage.removeItem(slot(id));
});

export const keyed = (camera: Camera | undefined) =>
  !!camera && POSE.some((name) => camera[name].keys.length > 0);

/** The sample row to draw a camera with: where it was put by hand at this frame, else as baked. */
export function cameraRow(camera: string, frame: number): Float32Array | null {
  const { loose } = useLoose.getState();
  const dragged = useDocument.getState().overlay?.rows[camera];
  if (loose && loose.camera === camera && loose.frame === frame && loose.row && !dragged) return loose.row;
  return rowOf(camera, frame);
}

export function poseOf(camera: string, frame: number): Pose | null {
  const row = cameraRow(camera, frame);
  // Samples are 32-bit: seven digits read as they were typed.
  return row
    ? (Object.fromEntries(POSE.map((name, i) => [name, Number(row[i].toPrecision(7))])) as Pose)
    : null;
}

const placing = (camera: Camera, frame: number, pose: Pose): Command =>
  keyed(camera)
    ? { kind: "keys.set", thing: camera.id, frame, pose, shape: "eased" }
    : { kind: "camera.place", camera: camera.id, pose };

/** Show a camera somewhere while a hand moves it. */
export function tryPose(id: string, pose: Pose): void {
  const camera = itemOf(useDocument.getState().scene, "cameras", id);
  const frame = useMoment.getState().stage;
  if (camera) tryOut(placing(camera, frame, pose), frame);
}

/** Leave a camera where the hand let go: kept at once if it has no keys, else loose until it is decided. */
export async function leavePose(id: string, pose: Pose): Promise<boolean> {
  const camera = itemOf(useDocument.getState().scene, "cameras", id);
  const frame = useMoment.getState().stage;
  endTry();
  if (!camera) return false;
  if (!keyed(camera)) return complain(await send(placing(camera, frame, pose)));
  if (camera.locked) {
    dropOverlay();
    return complain(await send(placing(camera, frame, pose)));
  }
  await setLoose(camera, frame, pose);
  return true;
}

async function setLoose(camera: Camera, frame: number, pose: Pose): Promise<void> {
  const scene = useDocument.getState().id;
  if (scene === null) return;
  const { data, problem } = await ask(
    client.POST("/api/scenes/{scene_id}/preview", {
      params: { path: { scene_id: scene } },
      body: { command: placing(camera, frame, pose), frame },
    }),
  );
  dropOverlay();
  if (!complain(problem)) return;
  const row = (data as PreviewOut).rows[camera.id];
  // A pose put back exactly where the keys have it is not loose.
  useLoose.setState({ loose: { camera: camera.id, frame, pose, row: row ? Float32Array.from(row) : null } });
  useDocument.setState((s) => ({ baked: s.baked + 1 }));
}

/** Bring back what was loose before a reload. */
export async function recallLoose(): Promise<void> {
  const { id, scene } = useDocument.getState();
  const text = id === null ? null : sessionStorage.getItem(slot(id));
  if (!text) return;
  const was = JSON.parse(text) as Loose;
  const camera = itemOf(scene, "cameras", was.camera);
  if (camera && keyed(camera)) await setLoose(camera, was.frame, was.pose);
}

export async function keepLoose(how: "key" | "path"): Promise<void> {
  const { loose } = useLoose.getState();
  if (!loose) return;
  const { camera, frame, pose } = loose;
  const command: Command =
    how === "key"
      ? { kind: "keys.set", thing: camera, frame, pose, shape: "eased" }
      : { kind: "camera.shift", camera, frame, pose };
  const problem = await send(command);
  if (complain(problem)) useLoose.setState({ loose: null });
  useDocument.setState((s) => ({ baked: s.baked + 1 }));
}

export function dropLoose(): void {
  useLoose.setState({ loose: null });
  useDocument.setState((s) => ({ baked: s.baked + 1 }));
}

/** Set a key on a camera at this frame: where it was put by hand, or where it is. */
export async function setKey(id: string): Promise<void> {
  const { loose } = useLoose.getState();
  const frame = useMoment.getState().stage;
  if (loose && loose.camera === id && loose.frame === frame) return keepLoose("key");
  const pose = poseOf(id, frame);
  if (!pose) return;
  complain(await send({ kind: "keys.set", thing: id, frame, pose, shape: "eased" }));
}

export function goLoose(): void {
  const { loose } = useLoose.getState();
  if (loose) scrubStage(loose.frame);
}
