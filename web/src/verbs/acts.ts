import { catalogue } from "../api/catalogue";
import type { Act, Command, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { endTry, send } from "../store/sending";
import { complain, notice, select, useView } from "../store/view";
import { newId } from "./new-id";

export type Lane = (typeof catalogue.lanes)[number];
export type ActKind = (typeof catalogue.acts)[number];

const KINDS = new Map(catalogue.acts.map((kind) => [kind.kind, kind]));
export const kindOf = (act: Act): ActKind => KINDS.get(act.kind) as ActKind;
export const laneOf = (act: Act): Lane => kindOf(act).lane;
export const actLabel = (act: Act): string =>
  act.kind === "express"
    ? act.expression[0].toUpperCase() + act.expression.slice(1)
    : ((act.kind === "pose" || act.kind === "recorded") && act.name) || kindOf(act).label;

const stage = () => useMoment.getState().stage;

/** Select a figure and some of its acts. */
export function selectActs(figure: string, acts: string[]): void {
  select("figure", [figure]);
  useView.setState({ acts });
}

/** The selected acts of the selected figure. */
export function chosenActs(): { figure: Figure; acts: Act[] } | null {
  const { kind, ids, acts } = useView.getState();
  const figure =
    kind === "figure" ? useDocument.getState().scene?.figures.find((f) => f.id === ids[0]) : null;
  const chosen = figure?.acts.filter((act) => act.id && acts.includes(act.id)) ?? [];
  return figure && chosen.length ? { figure, acts: chosen } : null;
}

const idsOf = (acts: Act[]) => acts.map((act) => act.id as string);

export async function deleteActs(): Promise<boolean> {
  const chosen = chosenActs();
  if (!chosen) return false;
  const { figure, acts } = chosen;
  if (complain(await send({ kind: "figure.act.delete", figure: figure.id, ids: idsOf(acts) })))
    useView.setState({ acts: [] });
  return true;
}

/** Copy the selected acts behind themselves, or to another figure at the same frames. */
export async function copyActs(to?: string): Promise<boolean> {
  const chosen = chosenActs();
  if (!chosen) return false;
  const { figure, acts } = chosen;
  complain(await send({ kind: "figure.acts.copy", figure: figure.id, ids: idsOf(acts), to: to ?? null }));
  return true;
}

const COPIED = "heron.acts";

/** Keep the selected acts to be pasted, here or in another scene, with what the things are called that they name. */
export function copyToPaste(): void {
  const chosen = chosenActs();
  if (!chosen) {
    notice("No act is selected.", "Select one on a lane, then copy it.", false);
    return;
  }
  const scene = useDocument.getState().scene;
  const text = JSON.stringify(chosen.acts);
  const all = [...(scene?.figures ?? []), ...(scene?.movers ?? []), ...(scene?.pieces ?? [])];
  const names = Object.fromEntries(
    all.filter(({ id }) => text.includes(`"${id}"`)).map(({ id, name }) => [id, name]),
  );
  localStorage.setItem(COPIED, JSON.stringify({ acts: chosen.acts, names }));
  const count = chosen.acts.length;
  notice(
    `Copied ${count} act${count > 1 ? "s" : ""}.`,
    "Ctrl V puts them on the selected figure at the playhead.",
    false,
  );
}

/** Put copied acts on the selected figure at the playhead. */
export async function pasteActs(): Promise<void> {
  const { kind, ids } = useView.getState();
  const kept = localStorage.getItem(COPIED);
  if (!kept) return notice("Nothing was copied.", "Select acts on a lane and press Ctrl C first.", false);
  if (kind !== "figure" || !ids[0])
    return notice("No figure is selected.", "Select whom they are for.", false);
  const { acts, names } = JSON.parse(kept) as { acts: Act[]; names: Record<string, string> };
  complain(await send({ kind: "figure.acts.paste", figure: ids[0], frame: stage(), acts, names }));
}

/** Cut the selected acts in two at the playhead. */
export async function splitActs(): Promise<boolean> {
  const chosen = chosenActs();
  if (!chosen) return false;
  for (const act of chosen.acts) {
    const command = { kind: "figure.act.split" as const, figure: chosen.figure.id, id: act.id as string };
    if (!complain(await send({ ...command, frame: stage(), named: newId("act") }))) break;
  }
  return true;
}

/** Commands on one act from where a hand holds it. */
export const movesActs = (figure: string, ids: string[], by: number): Command => ({
  kind: "figure.acts.move",
  figure,
  ids,
  by,
});

export const trimsAct = (
  figure: string,
  act: Act,
  end: "first" | "last",
  by: number,
  stretch: boolean,
): Command => ({
  kind: "figure.act.trim",
  figure,
  id: act.id as string,
  end,
  frame: act.frames[end] + by,
  stretch,
});

/** Keep a change to the end of an act; the first time, ask what the acts after it are to do. */
export async function sendEnd(figure: Figure, act: Act, command: Command): Promise<void> {
  const { laterActs } = usePreferences.getState();
  const by =
    command.kind === "figure.act.trim"
      ? command.frame - act.frames.last
      : command.kind === "figure.acts.move"
        ? command.by
        : 0;
  const follow = laterActs === "follow";
  if (!complain(await send(follow ? ({ ...command, follow } as Command) : command))) return;
  const next = figure.acts.find((one) => laneOf(one) === laneOf(act) && one.frames.first > act.frames.first);
  if (laterActs !== "ask" || !next?.id || by === 0) return;
  const choose = (what: "stay" | "follow") => usePreferences.setState({ laterActs: what });
  const rest = { ...movesActs(figure.id, [next.id], by), follow: true } as Command;
  const move = () => void send(rest).then(complain);
  const frames = `${Math.abs(by)} frame${Math.abs(by) === 1 ? "" : "s"} ${by > 0 ? "later" : "earlier"}`;
  notice(`What ${figure.name} does next stays where it was.`, "", false, false, [
    { label: `Move it ${frames}`, act: move },
    {
      label: "Always move it along",
      act: () => {
        choose("follow");
        move();
      },
    },
    { label: "Always leave it", act: () => choose("stay") },
  ]);
}

/** Change some fields of an act. */
export const setsAct = (figure: string, act: Act, part: Partial<Act>): Command => ({
  kind: "figure.act.set",
  figure,
  act: { ...act, ...part } as Act,
});

/** Change some fields of an act, and forget what was tried. */
export function setAct(figure: string, act: Act, part: object, seen?: number) {
  endTry();
  return send(setsAct(figure, act, part as Partial<Act>), seen);
}
