import { create } from "zustand";
import { unpackCut } from "../api/samples";
import type { CutTable, Problem } from "../api/types";
import { useDocument } from "./document";
import { useMoment } from "./moment";
import { placedShots } from "./samples";

/** Another cut of the scene that the one that plays is held against. */
interface Against {
  name: string;
  table: CutTable;
  /** What goes in step: the frames of the two cuts, the moment of the action, or the frames since the shot began. */
  by: "cut" | "action" | "shot";
}

export const useAgainst = create<{ held: Against | null }>(() => ({ held: null }));

/** Hold the cut against a kept one, or against itself with another version of a shot. */
export async function holdAgainst(
  name: string,
  what: { kept: string } | { shot: string; version: string },
): Promise<Problem | null> {
  const { id } = useDocument.getState();
  const answer = await fetch(`/api/scenes/${id}/cut/against`, {
    method: "POST",
    body: JSON.stringify(what),
    headers: { "Content-Type": "application/json" },
  });
  if (!answer.ok) return (await answer.json()) as Problem;
  const table = unpackCut(await answer.arrayBuffer());
  useAgainst.setState((s) => ({ held: { name, table, by: s.held?.by ?? "cut" } }));
  return null;
}

const sameFrame = (): number => useMoment.getState().cut;

const sameAction = (table: CutTable): number =>
  table.firstCut[useMoment.getState().stage - table.first] ?? -1;

/** As far into the same shot; −1 where the other has no such shot, or it is over by then. */
function sinceStart(table: CutTable): number {
  const { cut, shot, gap } = useMoment.getState();
  const own = gap ? undefined : placedShots()[shot];
  const other = table.shots.find((one) => one.id === own?.id);
  const at = own && other ? other.cut_first + cut - own.cut_first : -1;
  return other && at <= other.cut_last ? at : -1;
}

/** What the other cut shows at this moment: its shot, and the camera's frame; null where it is black. */
export function otherNow(): { shot: string; name: string; camera: string; stage: number } | null {
  const { held } = useAgainst.getState();
  if (!held) return null;
  const { table } = held;
  const at = { cut: sameFrame, action: sameAction, shot: sinceStart }[held.by](table);
  const shot = table.shots[table.shot[at] ?? -1];
  return shot?.camera && table.stage[at] >= 0
    ? { shot: shot.id, name: shot.name ?? "", camera: shot.camera, stage: table.stage[at] }
    : null;
}
