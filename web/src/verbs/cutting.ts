import { itemOf, useDocument } from "../store/document";
import { pause, useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain, notice, select } from "../store/view";
import { nudge } from "../ui/nudge";
import { newId } from "./new-id";

/** Put a camera on the assembly: the loop's range if one is set on the stage, else what fits from the playhead on. */
export async function addShot(camera: string): Promise<void> {
  const { loop, stage: playhead } = useMoment.getState();
  const stage = loop?.clock === "stage" ? { stage: { first: loop.first, last: loop.last } } : { playhead };
  const id = newId("shot");
  const problem = await send({ kind: "shot.add", id, camera, ...stage });
  if (complain(problem)) select("shot", [id]);
}

/** Cut here to a camera: the shot that is seen, or the first that shows this frame, at this stage frame. */
export async function cutHere(camera: string | null): Promise<void> {
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
    kind: "shot.cut",
    id,
    shot: at.id,
    frame: stage,
    ...(camera ? { camera } : {}),
  });
  if (complain(problem)) {
    select("shot", [id]);
    useMoment.setState({ shot: shot + 1 });
  }
}

/**
 * Move an end of a shot by frames, the rest of the cut with it, or, rolled, only the cut; steps that come fast add up.
 */
export const trimBy = (shot: string, edge: "first" | "last", by: number, roll = false): Promise<void> =>
  nudge(`${shot} ${edge} ${roll}`, [by], async ([sum]) => {
    // From where it is by then.
    const now = itemOf(useDocument.getState().scene, "shots", shot);
    if (!now) return false;
    return complain(
      await send({ kind: "shot.trim", shot, [edge]: now.stage[edge] + sum, ripple: true, roll }),
    );
  });

/** Slip what a shot shows, or slide it between its neighbours, by frames; steps that come fast add up. */
export const slipBy = (shot: string, edit: "slip" | "slide", far: number): Promise<void> =>
  nudge(`${shot} ${edit}`, [far], async ([by]) =>
    complain(await send({ kind: "cut.edit", do: { edit, shots: [shot], by } })),
  );

/** Split the shot that is seen, at the playhead. */
export async function splitHere(): Promise<void> {
  pause();
  const { cut } = useMoment.getState();
  complain(await send({ kind: "cut.edit", id: newId("shot"), do: { edit: "split", at: cut } }));
}

/** Copy a shot behind itself. */
export async function duplicateShot(shot: string): Promise<void> {
  const id = newId("shot");
  const problem = await send({ kind: "cut.edit", id, do: { edit: "duplicate", shots: [shot] } });
  if (complain(problem)) select("shot", [id]);
}
