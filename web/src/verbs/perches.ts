import type { Does, Perch, Pose } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { ROVER_ANGLE, roverPose, roverTo } from "../store/rover";
import { cameraColumns, rowOf } from "../store/samples";
import { send } from "../store/sending";
import { cameraRow, poseOf } from "../store/unsaved";
import { cameraSeen, complain, lookThrough, notice, select, useView } from "../store/view";
import { newId } from "./new-id";

const stage = () => useMoment.getState().stage;

/** Where a perch is at this moment, on the stage. */
export function perchPose(id: string): Pose | null {
  const row = rowOf(id, stage());
  if (!row) return null;
  const [x, y, z, pan, tilt, roll] = row;
  return { x, y, z, pan, tilt, roll };
}

/** The present view: the camera's that is looked through, with its lens and focus where that is asked; else the rover's. */
function presentView(): Does<"perch.add">["view"] {
  const seen = cameraSeen();
  const row = seen && cameraRow(seen, stage());
  const pose = seen && poseOf(seen, stage());
  if (row && pose) {
    if (!usePreferences.getState().perchLens) return pose;
    const at = cameraColumns();
    const perM = row[at.focus_per_m];
    return {
      ...pose,
      focal: Number(row[at.focal_mm].toFixed(2)),
      ...(perM > 1e-6 && { focus_m: Number((1 / perM).toFixed(3)) }),
    };
  }
  return roverPose();
}

/** Save the present view as a perch, and have it selected so that it can be named. */
export async function savePerch(): Promise<void> {
  const id = newId("per");
  if (complain(await send({ kind: "perch.add", id, view: presentView(), frame: stage() })))
    select("perch", [id]);
}

/** Go to a perch: the rover goes there; a camera that is looked through is moved there, by a key where it has keys. */
export async function goToPerch(perch: Perch): Promise<void> {
  const pose = perchPose(perch.id);
  const camera = cameraSeen();
  if (!pose) return;
  if (!camera) {
    useView.setState((s) => ({ rover: roverTo(pose, Math.max(s.rover.distance, 1)) }));
    return;
  }
  const letter = itemOf(useDocument.getState().scene, "cameras", camera)?.letter;
  const asked = {
    kind: "camera.move" as const,
    camera,
    what: "view" as const,
    perch: perch.id,
    first: stage(),
  };
  if (complain(await send(asked)))
    notice(`Camera ${letter} is on the perch ${perch.name}.`, "Undo takes it back.", false);
}

/** A camera of its own where a perch is. */
export async function cameraFromPerch(perch: Perch): Promise<void> {
  const pose = perchPose(perch.id);
  if (!pose) return;
  const id = newId("cam");
  const asked = {
    kind: "camera.add" as const,
    id,
    pose,
    frame: stage(),
    ...(perch.focal ? { focal: perch.focal } : { upright_deg: ROVER_ANGLE }),
  };
  if (!complain(await send(asked))) return;
  lookThrough({ camera: id });
}

/** A flight along perches from this frame on. */
export async function flyAlong(camera: string, perches: string[]): Promise<void> {
  complain(await send({ kind: "rig.fly", camera, perches, frame: stage(), id: newId("lay") }));
}

/** The angle that a perch is pictured through, upright: its own lens's, or the rover's. */
export const perchAngle = (id: string): number => rowOf(id, stage())?.[6] || ROVER_ANGLE;
