import type { KeyboardEvent } from "react";
import { KEY, keyOn } from "../api/samples";
import { useMoment } from "../store/moment";
import { type Picked, useKeysPicked } from "../store/picked";
import {
  copyPicked,
  deletePicked,
  doPicked,
  fit,
  keyHere,
  nudge,
  paste,
  picked,
  storedChannels,
} from "../verbs/curves";
import type { Shown } from "./lines";

/** The curves without a mouse. What it does not know is left to the desk. */
export function onKeys(e: KeyboardEvent, shown: Shown): void {
  const done = act(e, shown);
  if (!done) return;
  e.preventDefault();
  e.stopPropagation();
}

function act(e: KeyboardEvent, shown: Shown): boolean {
  const { picked: now } = useKeysPicked.getState();
  const any = Object.values(now).some((frames) => frames.length > 0);
  const ctrl = e.ctrlKey || e.metaKey;
  const letter = e.key.toLowerCase();
  const spec = shown.lines.find((line) => line.active)?.spec;
  const way = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const rise = { ArrowUp: 1, ArrowDown: -1 }[e.key];
  if (ctrl && letter === "a") return pick(Object.fromEntries(shown.names.map((n) => [n, framesOf(n)])));
  if (ctrl && letter === "c") return doing(copyPicked);
  if (ctrl && letter === "x") return doing(cut);
  if (ctrl && letter === "v") return doing(() => void paste(e.shiftKey ? { join: true } : {}));
  if (ctrl && rise) return doing(() => goAlong(shown, -rise));
  if (ctrl) return false;
  if (e.key === "PageDown" || e.key === "PageUp")
    return nextKey(shown, e.key === "PageDown" ? 1 : -1, e.shiftKey);
  if (letter === "f") return doing(() => fit(shown.names));
  if (letter === "k" || e.key === "Insert")
    return doing(() => void keyHere(shown.names, useMoment.getState().stage));
  if (!any) return false;
  if (e.key === "Escape") return pick({});
  if (e.key === "Delete" || e.key === "Backspace") return doing(() => void deletePicked());
  if (e.altKey && (way || rise))
    return doing(() => void moveHandle(shown, e.shiftKey ? "before" : "after", way ?? 0, rise ?? 0));
  if (way) return doing(() => void inTurn(() => nudge(way * (e.shiftKey ? 10 : 1), 0)));
  if (rise && spec)
    return doing(() => void inTurn(() => nudge(0, rise * spec.step * (e.shiftKey ? 10 : 1), spec.measure)));
  return false;
}

function cut(): void {
  copyPicked();
  void deletePicked();
}

const doing = (work: () => unknown): true => {
  work();
  return true;
};

let last: Promise<unknown> = Promise.resolve();
/** One step after the other, each of what the last one left. */
function inTurn(work: () => Promise<unknown>): void {
  last = last.then(work, work);
}

const framesOf = (name: string): number[] => storedChannels()[name]?.keys.map((k) => k.frame) ?? [];

function pick(picked: Picked): true {
  useKeysPicked.setState({ picked });
  return true;
}

/** The next key of the active channel, or the one before; with Shift it is picked besides. */
function nextKey(shown: Shown, by: 1 | -1, also: boolean): boolean {
  if (!shown.active) return false;
  const frames = framesOf(shown.active);
  const { picked: now } = useKeysPicked.getState();
  const here = now[shown.active] ?? [];
  const from = here.length ? (by > 0 ? Math.max(...here) : Math.min(...here)) : useMoment.getState().stage;
  const next =
    by > 0
      ? frames.find((f) => (here.length ? f > from : f >= from))
      : [...frames].reverse().find((f) => (here.length ? f < from : f <= from));
  if (next === undefined) return true;
  return pick(also ? { ...now, [shown.active]: [...here, next] } : { [shown.active]: [next] });
}

/** To the channel below, or the one above. */
function goAlong(shown: Shown, by: number): void {
  const at = shown.names.indexOf(shown.active ?? "");
  const active = shown.names[(at + by + shown.names.length) % shown.names.length];
  if (active) useKeysPicked.setState({ active });
}

/** A handle of the one picked key of the active channel, by a frame or a step; an eased side becomes shaped. */
function moveHandle(shown: Shown, side: "before" | "after", way: number, rise: number): void {
  inTurn(async () => {
    const line = shown.lines.find((one) => one.active);
    const frames = useKeysPicked.getState().picked[shown.active ?? ""] ?? [];
    if (!line || frames.length !== 1) return;
    const { keys } = line.curve;
    const from = keyOn(keys, frames[0]) + (side === "before" ? KEY.backX : KEY.outX);
    const command = {
      kind: "keys.handle" as const,
      keys: picked().filter((one) => one.channel === shown.active),
      side,
      frames: keys[from] + way,
      value: keys[from + 1] + rise * line.spec.step,
    };
    await doPicked(command);
  });
}
