import { create } from "zustand";
import { unpackCut } from "../api/samples";
import type { CutTable, Problem } from "../api/types";
import { useDocument } from "./document";
import { useMoment } from "./moment";

/** Another cut of the scene that the one that plays is held against. */
interface Against {
  name: string;
  table: CutTable;
  /** What goes in step: the frames of the two cuts, or the moment of the action. */
  by: "cut" | "action";
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

/** What the other cut shows at this moment: its shot, and the camera's frame; null where it is black. */
export function otherNow(): { shot: string; name: string; camera: string; stage: number } | null {
  const { held } = useAgainst.getState();
  if (!held) return null;
  const { cut, stage } = useMoment.getState();
  const { table } = held;
  const at = held.by === "cut" ? cut : (table.firstCut[stage - table.first] ?? -1);
  const shot = table.shots[table.shot[at] ?? -1];
  return shot?.camera && table.stage[at] >= 0
    ? { shot: shot.id, name: shot.name ?? "", camera: shot.camera, stage: table.stage[at] }
    : null;
}
