import { ask, client } from "../api/client";
import type { Command, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { type Part, poseInHand } from "../store/handles";
import { useMoment } from "../store/moment";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, notice, useView } from "../store/view";

/** A part of a body in somebody's hand, moved by so many metres on the stage. */
export function posing(figure: Figure, part: Part) {
  const { stage } = useMoment.getState();
  const pose = poseInHand(figure, stage, useView.getState().acts);
  const command = ([dx, dy, dz]: [number, number, number]): Command => ({
    kind: "figure.pose.move",
    figure: figure.id,
    id: pose?.id ?? null,
    part,
    frame: stage,
    dx,
    dy,
    dz,
  });
  return {
    show: (by: [number, number, number]) => tryOut(command(by), stage),
    keep: async (by: [number, number, number]) => {
      endTry();
      return complain(await send(command(by)));
    },
    drop: () => {
      endTry();
      dropOverlay();
    },
  };
}

/** Keep a pose for every scene of the production, as it is at the playhead. */
export async function keepPose(figure: string, act: string, name: string): Promise<boolean> {
  const { id } = useDocument.getState();
  if (id === null) return false;
  const body = { figure, act, name, frame: useMoment.getState().stage };
  const { problem } = await ask(
    client.POST("/api/scenes/{scene_id}/poses", { params: { path: { scene_id: id } }, body }),
  );
  if (!complain(problem)) return false;
  notice(`Kept the pose ${name}.`, "Add › Kept poses puts it on any figure, in any scene.", false);
  return true;
}

/** Remove a pose from the production's list; scenes keep those that were put. */
export async function forgetPose(pose_id: number, name: string): Promise<boolean> {
  const { problem } = await ask(client.DELETE("/api/poses/{pose_id}", { params: { path: { pose_id } } }));
  if (!complain(problem)) return false;
  notice(`Removed the pose ${name} from the list.`, "Scenes keep those that were put.", false);
  return true;
}
