import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { ROVER_ANGLE, roverPose, roverTo } from "../store/rover";
import { cameraColumns, rowOf } from "../store/samples";
import { send } from "../store/sending";
import { reveal } from "../store/space";
import { leavePose, poseOf } from "../store/unsaved";
import { cameraSeen, complain, lookThrough, notice, useView } from "../store/view";
import { newId } from "./new-id";

/** Make a camera from the view in the picture: it sees what is seen now. Its name waits on the card. */
export async function newCamera(): Promise<void> {
  const seen = cameraSeen();
  const like = itemOf(useDocument.getState().scene, "cameras", seen);
  const frame = useMoment.getState().stage;
  const pose = (seen && poseOf(seen, frame)) || roverPose();
  const id = newId("cam");
  // Like the camera that is looked through, else with the rover's field of view.
  const row = seen && rowOf(seen, frame);
  const focal = row ? Number(row[cameraColumns().focal_mm].toFixed(2)) : undefined;
  const more = like ? { lens: like.lens, focal } : { upright_deg: ROVER_ANGLE };
  const problem = await send({ kind: "camera.add", id, pose, frame, ...more });
  if (!complain(problem)) return;
  lookThrough({ camera: id });
  const { scene } = useDocument.getState();
  if (scene) reveal(scene, pose.x, pose.z);
}

/** Show or hide cameras on the stage and the plan, in one edit. */
export async function showCameras(shown: boolean, ids?: string[]): Promise<void> {
  const cameras = useDocument.getState().scene?.cameras ?? [];
  const chosen = cameras.filter((c) => (ids?.includes(c.id) ?? true) && c.hidden === shown);
  if (chosen.length === 0)
    return notice(`All cameras are already ${shown ? "visible" : "hidden"}.`, "", false);
  complain(await send({ kind: "cameras.show", ids: chosen.map((c) => c.id), shown }));
}

/** The camera meant by a verb: the selected one, else the one looked through. */
export function meantCamera(): string | null {
  const { kind, ids } = useView.getState();
  return kind === "camera" ? ids[0] : cameraSeen();
}

/** No tilt and no roll, where the camera stands: by its placement where it watches something. */
export async function level(): Promise<void> {
  const camera = meantCamera();
  if (camera) await leavePose(camera, { tilt: 0, roll: 0 });
  else useView.setState(({ rover }) => ({ rover: roverTo({ ...roverPose(), tilt: 0 }, rover.distance) }));
}
