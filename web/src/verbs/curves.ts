import type { Channel, ChannelSpec, Command, Does, Problem, Spot } from "../api/types";
import { channelsBy, thingOf, useCurves } from "../store/curves";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import {
  countPicked,
  type Picked,
  pickedAfter,
  pickedKeys,
  roomy,
  scaleOf,
  useKeysPicked,
} from "../store/picked";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, notice } from "../store/view";
import { subjectsOf } from "./subjects";

type KeysAt = Does<"keys.move">["keys"];

/** The channels of what is looked at, as stored. */
export const storedChannels = (): Record<string, Channel> =>
  channelsBy(thingOf(useDocument.getState().scene, useCurves.getState().thing));

/** Channels whose curves are shown: those chosen, else those that have keys. */
export function shownNames(channels: Record<string, Channel>, specs: ChannelSpec[]): string[] {
  const { shown } = useKeysPicked.getState();
  const there = specs.map((spec) => spec.name).filter((name) => name in channels);
  return there.filter((name) => (shown ? shown.includes(name) : channels[name].keys.length > 0));
}

/** The picked keys, as commands name them. */
export function picked(): KeysAt {
  const { thing } = useCurves.getState();
  return thing ? pickedKeys(thing, storedChannels(), useKeysPicked.getState().picked) : [];
}

/** Show what an edit of the picked keys would do. */
export function tryPicked(command: Command): void {
  tryOut(command, useMoment.getState().stage);
}

/** Do an edit; what it makes of the picked keys is picked. */
export async function editKeys(command: Command): Promise<Problem | null> {
  endTry();
  const before = storedChannels();
  const problem = await send(command);
  if (!problem) useKeysPicked.setState((s) => ({ picked: pickedAfter(s.picked, before, storedChannels()) }));
  return problem;
}

export const doPicked = async (command: Command): Promise<boolean> => complain(await editKeys(command));

export function dropTry(): void {
  endTry();
  dropOverlay();
}

/** Do something with the picked keys; with none, say so. */
export async function withPicked(make: (keys: KeysAt) => Command): Promise<boolean> {
  const keys = picked();
  if (keys.length) return doPicked(make(keys));
  notice("No key is picked.", "Click one, or press Ctrl A in the curves for all.", false);
  return false;
}

/** Move the picked keys by frames, and those of one measure by an amount. */
export function nudge(by: number, up: number, measure?: ChannelSpec["measure"]): Promise<boolean> {
  return withPicked((keys) => ({ kind: "keys.move", keys, by, up, ...(up && measure ? { measure } : {}) }));
}

export async function deletePicked(): Promise<void> {
  const keys = picked();
  if (keys.length === 0) return;
  if (complain(await send({ kind: "keys.delete", keys }))) useKeysPicked.setState({ picked: {} });
}

/** Keys on the channels that are shown, at the playhead: where their curves are. */
export async function keyHere(names: string[], frame: number): Promise<void> {
  const { thing } = useCurves.getState();
  if (!thing || names.length === 0) return;
  const asked = { kind: "keys.here" as const, thing, frame, channels: names, keep: true };
  if (complain(await send(asked)))
    useKeysPicked.setState({ picked: Object.fromEntries(names.map((name) => [name, [frame]])) });
}

const COPIED = "heron-copied-keys";
type Copied = Does<"keys.paste">["copied"];

/** What was copied, here or in another window. */
export function copied(): Copied {
  try {
    return JSON.parse(localStorage.getItem(COPIED) ?? "[]");
  } catch {
    return [];
  }
}

export function copyPicked(): void {
  const { specs } = useCurves.getState();
  const channels = storedChannels();
  const now = useKeysPicked.getState().picked;
  const out: Copied = specs.flatMap(({ name, measure }) => {
    const on = new Set(now[name]);
    const keys = (channels[name]?.keys ?? []).filter((k) => on.has(k.frame));
    return keys.length ? [{ channel: name, measure, keys }] : [];
  });
  if (out.length === 0) {
    notice("No key is picked.", "Pick some, then copy them.", false);
    return;
  }
  localStorage.setItem(COPIED, JSON.stringify(out));
  const count = countPicked(now);
  notice(`Copied ${count} key${count > 1 ? "s" : ""}.`, "Ctrl V puts them at the playhead.", false);
}

/**
 * Put copied keys at the playhead: on the channels they come from, or a single channel's on the one that is active.
 * `more` may join them on to what is there, or raise them.
 */
export async function paste(more: { join?: boolean; up?: number } = {}): Promise<void> {
  const { thing, specs } = useCurves.getState();
  const found = copied();
  if (!thing || found.length === 0)
    return notice("Nothing was copied.", "Pick keys and press Ctrl C first.", false);
  const { active } = useKeysPicked.getState();
  const there = new Set(specs.map((spec) => spec.name));
  const put: Copied =
    found.length === 1 && active
      ? [{ ...found[0], channel: active }]
      : found.filter((one) => there.has(one.channel));
  if (put.length === 0)
    return notice(
      "There is no such channel here.",
      "Choose the channel they are to go on, and copy from one.",
      true,
    );
  const frame = useMoment.getState().stage;
  if (!complain(await send({ kind: "keys.paste", thing, frame, copied: put, ...more }))) return;
  const first = Math.min(...put.flatMap((one) => one.keys.map((k) => k.frame)));
  const now: Picked = Object.fromEntries(
    put.map((one) => [one.channel, one.keys.map((k) => k.frame - first + frame)]),
  );
  useKeysPicked.setState((s) => ({
    picked: now,
    shown: s.shown && [...new Set([...s.shown, ...Object.keys(now)])],
  }));
}

/** Fit what is shown, or what is picked, from top to bottom. */
export function fit(names: string[]): void {
  const { specs, curves } = useCurves.getState();
  const { shared } = useKeysPicked.getState();
  const reach = new Map<string, { low: number; high: number; measure: ChannelSpec["measure"] }>();
  for (const spec of specs) {
    const curve = curves[spec.name];
    if (!curve || !names.includes(spec.name)) continue;
    const under = scaleOf(spec, shared);
    const was = reach.get(under);
    reach.set(under, {
      low: Math.min(was?.low ?? curve.low, curve.low),
      high: Math.max(was?.high ?? curve.high, curve.high),
      measure: spec.measure,
    });
  }
  useKeysPicked.setState((s) => ({
    spans: {
      ...s.spans,
      ...Object.fromEntries([...reach].map(([under, r]) => [under, roomy(r.low, r.high, r.measure)])),
    },
  }));
}

/** A subject of the strip as commands name it. */
export const subjectSpot = (id: string): Spot | undefined =>
  subjectsOf(useDocument.getState().scene, "head").find((one) => one.value === id)?.spot;

/** Have the lens go with the distance, or the distance with the lens, over the picked keys' frames (or the loop). */
export async function matchZoom(answers: "lens" | "distance"): Promise<void> {
  const { watched } = useCurves.getState();
  const spot = watched && subjectSpot(watched.subject);
  const frames = Object.values(useKeysPicked.getState().picked).flat();
  const { loop } = useMoment.getState();
  const range =
    frames.length > 1
      ? { first: Math.min(...frames), last: Math.max(...frames) }
      : loop?.clock === "stage"
        ? { first: loop.first, last: loop.last }
        : null;
  if (!watched || !spot)
    return notice("There is nobody whose size is to be kept.", "Show the strip under the curves first.");
  if (!range)
    return notice("There is no range to match over.", "Pick the keys at its two ends, or set a loop.", false);
  complain(await send({ kind: "camera.match", camera: watched.camera, subject: spot, ...range, answers }));
}

/** Put frames in at the playhead, or take them out: later keys of the curves that are shown follow. */
export async function shiftFrames(count: number): Promise<Problem | null> {
  const { thing, specs } = useCurves.getState();
  if (!thing || count === 0) return null;
  const channels = shownNames(storedChannels(), specs);
  const problem = await send({
    kind: "keys.frames",
    thing,
    channels,
    frame: useMoment.getState().stage,
    count,
  });
  if (!problem) useKeysPicked.setState({ picked: {} });
  return problem;
}
