import { itemOf, useDocument } from "../store/document";
import { poseOf } from "../store/loose";
import { useMoment } from "../store/moment";
import { roverPose } from "../store/rover";
import { send } from "../store/sending";
import { reveal } from "../store/space";
import { cameraSeen, complain, lookThrough, notice, useView } from "../store/view";
import { made } from "./made";

/** Make a camera from the view in the picture, then ask what it sees. */
export async function newCamera(): Promise<void> {
  const seen = cameraSeen();
  const like = itemOf(useDocument.getState().scene, "cameras", seen);
  const pose = (seen && poseOf(seen, useMoment.getState().stage)) || roverPose();
  const id = made("cam");
  // Without a camera to be like, the core gives the lens; it gives the name as well.
  const more = like ? { lens: like.lens, focal: like.focal.rest } : {};
  const frame = useMoment.getState().stage;
  const problem = await send({ kind: "camera.add", id, pose, frame, ...more });
  if (!complain(problem)) return;
  lookThrough({ camera: id });
  const { scene } = useDocument.getState();
  if (scene) reveal(scene, pose.x, pose.z);
  useView.setState({ asking: { what: "name-camera", camera: id } });
}

/** Show or hide cameras on the stage and the plan, in one edit. */
export async function showCameras(shown: boolean, ids?: string[]): Promise<void> {
  const cameras = useDocument.getState().scene?.cameras ?? [];
  const chosen = cameras.filter((c) => (ids?.includes(c.id) ?? true) && c.hidden === shown);
  if (chosen.length === 0) return notice(`Every camera is ${shown ? "shown" : "hidden"} already.`, "", false);
  complain(await send({ kind: "cameras.show", ids: chosen.map((c) => c.id), shown }));
}

/** The camera meant by a verb: the selected one, else the one looked through. */
export function meantCamera(): string | null {
  const { kind, ids } = useView.getState();
  return kind === "camera" ? ids[0] : cameraSeen();
}
