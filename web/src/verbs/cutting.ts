import type { Do, Edges, Shot } from "../api/types";
import { useDocument } from "../store/document";
import { pause, useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { complain, notice, select, useView } from "../store/view";
import { nudge } from "../ui/nudge";
import { cutLive, cutsLive } from "./live";
import { newId } from "./new-id";

/** Put a camera on the assembly: the loop's range if one is set on the stage, else what fits from the playhead on; none, a slate. */
export async function addShot(camera: string | null): Promise<void> {
  const { loop, stage: playhead } = useMoment.getState();
  const stage = loop?.clock === "stage" ? { stage: { first: loop.first, last: loop.last } } : { playhead };
  const id = newId("shot");
  const problem = await send({ kind: "shot.add", id, camera, ...stage });
  if (complain(problem)) select("shot", [id]);
}

/** Cut here to a camera: the shot that is seen, or the first that shows this frame, at this stage frame. */
export async function cutHere(camera: string | null): Promise<void> {
  // While it plays it goes on playing.
  if (cutsLive() && camera) return cutLive(camera);
  pause();
  const { stage, clock, shot, gap } = useMoment.getState();
  const at = useDocument.getState().scene?.shots[shot];
  if (!at || gap) {
    if (clock === "stage") notice("This stage frame is in no shot.", "Go into the cut, or add a shot first.");
    else notice("There is no shot here to cut.", "Cut inside a shot, or add a shot.");
    return;
  }
  const id = newId("shot");
  const problem = await send({
    kind: "cut.edit",
    id,
    do: { edit: "split", shot: at.id, frame: stage, ...(camera ? { camera } : {}) },
  });
  if (complain(problem)) {
    select("shot", [id]);
    useMoment.setState({ shot: shot + 1 });
  }
}

/** Move edges of shots by frames; steps that come fast add up. */
export const nudgeEdit = (edit: Edges, far: number): Promise<void> =>
  nudge(JSON.stringify(edit), [far], async ([by]) =>
    complain(await send({ kind: "cut.edit", do: { ...edit, by } })),
  );

/** Dissolve to a shot over half a second, as far as there are frames; or cut to it plainly again. */
export async function dissolve(shot: Shot): Promise<void> {
  const todo: Do = { edit: "dissolve", shots: [shot.id], frames: null, usual: !shot.dissolve };
  complain(await send({ kind: "cut.edit", do: todo }));
}

/** Split the shot that is seen, at the playhead. */
export async function splitHere(): Promise<void> {
  pause();
  const { cut } = useMoment.getState();
  complain(await send({ kind: "cut.edit", id: newId("shot"), do: { edit: "split", at: cut } }));
}

/** What is to be done with the selected shots, if there are any. */
async function withShots(make: (shots: string[]) => Do | null): Promise<void> {
  const { kind, ids } = useView.getState();
  if (kind !== "shot" || !ids.length) return notice("No shot is selected.", "Click one in the cut first.");
  const todo = make(ids);
  if (todo) complain(await send({ kind: "cut.edit", do: todo }));
}

/** Take an end of the selected shot to the playhead: a roll where it touches its neighbour. */
export const extendToPlayhead = (edge: "in" | "out"): Promise<void> =>
  withShots(([shot]) => ({ edit: "extend", shots: [shot], edge, to: useMoment.getState().cut }));

/** Join the two selected shots, or the selected one and the one after it. */
export const joinShots = (): Promise<void> =>
  withShots((ids) => {
    const shots = useDocument.getState().scene?.shots ?? [];
    const after = shots[shots.findIndex((one) => one.id === ids[0]) + 1];
    return { edit: "join", shots: ids.length > 1 ? ids : [ids[0], ...(after ? [after.id] : [])] };
  });

export const closeGaps = (): Promise<void> => withShots((shots) => ({ edit: "close_gap", shots }));

/** The frames of the stage that are meant: the loop's, if one is set on the stage, else from the playhead on. */
function meantFrames(): { stage: [number, number] } | { stage_in: number } {
  const { loop, stage } = useMoment.getState();
  return loop?.clock === "stage" ? { stage: [loop.first, loop.last] } : { stage_in: stage };
}

const NO_CAMERA = ["No camera is chosen.", "Select the camera that the shot is on."] as const;

/** Put a camera's view into the cut at the playhead. */
export async function putShot(edit: "insert" | "overwrite", camera: string | null): Promise<void> {
  if (!camera) return notice(...NO_CAMERA);
  const id = newId("shot");
  const todo: Do = { edit, camera, ...meantFrames(), at: useMoment.getState().cut };
  if (complain(await send({ kind: "cut.edit", id, do: todo }))) select("shot", [id]);
}

/** Have the selected shots show other frames of the stage, on the camera that is looked through, if one is. */
export function replaceShots(): Promise<void> {
  const { through } = useView.getState();
  const camera = typeof through === "object" ? through.camera : null;
  return withShots((shots) => ({ edit: "replace", shots, camera, ...meantFrames() }));
}

/** Copy shots behind themselves, or before another one. */
export async function duplicateShots(shots: string[], before: string | null = null): Promise<void> {
  const id = newId("shot");
  const problem = await send({ kind: "cut.edit", id, do: { edit: "duplicate", shots, before } });
  if (complain(problem)) select("shot", [id]);
}

/** Keep another angle of a shot, and choose it. */
export async function keepVersion(shot: Shot, camera: string): Promise<void> {
  const todo: Do = { edit: "add_version", shots: [shot.id], camera, choose: true };
  complain(await send({ kind: "cut.edit", do: todo }));
}

/** Choose a version of a shot by its name. */
export async function chooseVersion(shot: string, version: string): Promise<void> {
  const keep_place = usePreferences.getState().versionsStay;
  complain(await send({ kind: "cut.edit", do: { edit: "choose", shots: [shot], version, keep_place } }));
}

/** Choose the next version of the selected shot, or of the one that is seen, and go on playing. */
export async function nextVersion(by: 1 | -1): Promise<void> {
  const { kind, ids } = useView.getState();
  const { shots } = useDocument.getState().scene ?? { shots: [] };
  const shot = kind === "shot" ? shots.find((one) => one.id === ids[0]) : shots[useMoment.getState().shot];
  if (!shot) return notice("No shot is selected.", "Click one in the cut first.");
  const keep_place = usePreferences.getState().versionsStay;
  complain(await send({ kind: "cut.edit", do: { edit: "choose", shots: [shot.id], step: by, keep_place } }));
}
