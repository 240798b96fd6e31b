import { catalogue } from "../api/catalogue";
import type { Does } from "../api/types";
import { useDocument } from "../store/document";
import { goStage, pause, playThrough, useMoment } from "../store/moment";
import { bakedRow, cameraColumns, moverColumns, touch, workBy } from "../store/samples";
import { lastSentence, send } from "../store/sending";
import { useUnsaved } from "../store/unsaved";
import { cameraSeen, complain, lookThrough, notice, useView } from "../store/view";
import { newId } from "../verbs/new-id";
import { brought, dragged, NO_PUSH, numbersOf, pairAs, pushed, STILL, touchedBy, WORKING } from "./hand";
import { added, padNow, pluggedIn, pushOf, useScreenPad } from "./pad";
import { cannot, limits, operatedItem, passRange, useOperate, type Worked, ZOOM_REMEDY } from "./state";

/** Take something in hand, or let go of it when it is in hand already. */
export function operate(thing: Worked): void {
  const before = useOperate.getState().thing;
  letGoOfIt();
  const item = operatedItem(thing);
  if (before?.id === thing.id || !item) return;
  if ("locked" in item && item.locked) {
    notice("This camera is locked.", "Unlock it on its card first.");
    return;
  }
  // The button that was pressed has only been left behind: Enter records.
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
  if (thing.table === "cameras") lookThrough({ camera: thing.id });
  // A camera that something carries is worked on top of that.
  const onTop = "layers" in item && item.layers.some((layer) => !layer.off);
  useView.setState({ side: null });
  useOperate.setState({ thing, works: WORKING[thing.table][0].works, onTop, phase: "ready", hand: STILL });
}

export function letGoOfIt(): void {
  if (useOperate.getState().phase !== "ready") drop();
  useOperate.setState({ thing: null });
}

let columns: Record<string, number> = {};
/** The row as it stood where the pass begins. */
let start: Float32Array | null = null;
let kept: { at: number[]; by: Record<string, number[]>; base: Record<string, number[]> };
/** The numbers that the hand has touched at any time, even if it brought them back. */
let ever = new Set<string>();

/** All of it at once goes on top of what is there: from where it stood, all else would stand still. */
const goesOnTop = () => useOperate.getState().onTop || useOperate.getState().works === "all";

const RADIANS = Math.PI / 180;

/** Where a number stands in a row; a figure's begins as a mover's does. */
const ROW: Record<string, string> = { focal: "focal_mm", "focus.distance": "focus_per_m" };

/** The numbers that are worked, where the hand has them at a frame. */
function numbersAt(row: Float32Array): Record<string, number> {
  const { works, hand } = useOperate.getState();
  const from = goesOnTop() || !start ? row : start;
  const within = limits();
  return Object.fromEntries(
    numbersOf(works).map((name) => [name, brought(name, from[columns[ROW[name] ?? name]], hand, within)]),
  );
}

workBy((thing, row) => {
  const now = useOperate.getState();
  if (now.phase !== "recording" || now.thing?.id !== thing) return row;
  const out = row.slice();
  for (const [name, value] of Object.entries(numbersAt(row))) out[columns[ROW[name] ?? name]] = value;
  const { focal_mm, horizontal_deg, vertical_deg, pupil_across_m, pupil_up_m } = columns;
  if (focal_mm !== undefined && out[focal_mm] !== row[focal_mm]) {
    // While the hand is at work the angle is drawn by plain similar triangles; the core says it once it is kept.
    const ratio = row[focal_mm] / out[focal_mm];
    for (const i of [horizontal_deg, vertical_deg])
      out[i] = (2 / RADIANS) * Math.atan(Math.tan((row[i] * RADIANS) / 2) * ratio);
    for (const i of [pupil_across_m, pupil_up_m]) out[i] = row[i] / ratio;
  }
  return out;
});

/** The way that right and ahead go by: the camera's own, or, for what is led, that of the picture. */
function heading(row: Float32Array): number {
  const { thing, works, hand } = useOperate.getState();
  if (thing?.table === "cameras" || works === "drive") {
    const turns = numbersOf(works).includes("pan") ? hand.pan : 0;
    return (goesOnTop() || !start ? row : start)[columns.pan] + turns;
  }
  const seen = cameraSeen();
  const eye = seen ? bakedRow(seen, useMoment.getState().stage) : null;
  return eye ? eye[cameraColumns().pan] : useView.getState().rover.bearing;
}

/** Keys that are held down, as a pair of ways. */
const held = new Set<string>();
const down = (key: string) => (held.has(key) ? 1 : 0);

function step(at: number, seconds: number): void {
  const { thing, works } = useOperate.getState();
  const row = thing && bakedRow(thing.id, Math.floor(at));
  if (!thing || !row) return;
  const pair = pairAs(works, down("ArrowRight") - down("ArrowLeft"), down("ArrowUp") - down("ArrowDown"));
  const pad = padNow();
  const push = added(pair, pad ? pushOf(pad, works) : NO_PUSH);
  // A step that came late has its whole time: the hand was pushing.
  useOperate.setState((s) => ({ hand: pushed(s.hand, push, seconds, heading(row)) }));
  note(at, row);
  touch([thing.id]);
}

function note(at: number, row: Float32Array): void {
  kept.at.push(at);
  for (const [name, value] of Object.entries(numbersAt(row))) {
    const own = row[columns[ROW[name] ?? name]];
    const from = goesOnTop() || !start ? own : start[columns[ROW[name] ?? name]];
    kept.by[name] ??= [];
    kept.by[name].push(value - from);
    kept.base[name] ??= [];
    kept.base[name].push(own);
  }
  const { works, hand } = useOperate.getState();
  for (const name of touchedBy(numbersOf(works), hand)) ever.add(name);
}

/** The mouse went over shares of the picture while it records. */
export function mouseOver(right: number, up: number): void {
  const { thing, works, phase } = useOperate.getState();
  const row = thing && bakedRow(thing.id, useMoment.getState().stage);
  if (phase !== "recording" || !thing || !row) return;
  const seen = cameraSeen();
  const eye = seen ? bakedRow(seen, useMoment.getState().stage) : null;
  const at = cameraColumns();
  const sees = {
    across: eye ? eye[at.horizontal_deg] : 50,
    distance: eye ? Math.min(1 / Math.max(eye[at.focus_per_m], 0.02), 30) : useView.getState().rover.distance,
    heading: heading(row),
  };
  useOperate.setState((s) => ({ hand: dragged(s.hand, works, right, up, sees) }));
}

let counting = 0;

/** Count in, then record; pressed again while it records, end the pass and keep it. */
export function record(): void {
  const { thing, phase, works } = useOperate.getState();
  if (!thing) return;
  const no = cannot(works);
  const { unsaved } = useUnsaved.getState();
  if (phase === "recording") pause();
  else if (phase === "counting") drop();
  else if (no) notice(no, ZOOM_REMEDY);
  else if (unsaved?.camera === thing.id)
    notice(
      "This camera was moved and the move is not saved.",
      "Keep it as a key or drop it, in the line under the picture, then record.",
    );
  else countIn();
}

function countIn(): void {
  pause();
  const { thing } = useOperate.getState();
  if (thing?.table === "cameras" && cameraSeen() !== thing.id) lookThrough({ camera: thing.id });
  const { first, last } = passRange();
  goStage(first);
  useOperate.setState({ phase: "counting", count: catalogue.hand.count_in_s, first, last, hand: STILL });
  counting = window.setInterval(() => {
    const { count } = useOperate.getState();
    if (count > 1) useOperate.setState({ count: count - 1 });
    else {
      window.clearInterval(counting);
      begin();
    }
  }, 1000);
}

function begin(): void {
  const { thing, first, last } = useOperate.getState();
  if (!thing) return;
  columns = thing.table === "cameras" ? cameraColumns() : moverColumns();
  start = bakedRow(thing.id, first)?.slice() ?? null;
  kept = { at: [], by: {}, base: {} };
  ever = new Set();
  useOperate.setState({ phase: "recording", count: 0, hand: STILL });
  playThrough(first, last, step);
}

/** Discard what was counted or recorded. */
export function drop(): void {
  window.clearInterval(counting);
  const { thing, first } = useOperate.getState();
  held.clear();
  useOperate.setState({ phase: "ready", count: 0, hand: STILL });
  pause();
  goStage(first);
  if (thing) touch([thing.id]);
}

/** However playing ends, what was recorded until then is kept. */
useMoment.subscribe((now, before) => {
  if (before.playing && !now.playing && useOperate.getState().phase === "recording") void keep();
});

const tidy = (name: string, value: number) => Number(value.toFixed(name === "focus.distance" ? 7 : 4));

async function keep(): Promise<void> {
  const { thing, works, first } = useOperate.getState();
  const { at, by, base } = kept;
  held.clear();
  if (!thing) return;
  // From where it stood, what the hand left alone stood still, though it would have moved.
  const stood = (name: string) =>
    !goesOnTop() && base[name].some((one) => Math.abs(one - base[name][0]) > 1e-4);
  const names = numbersOf(works).filter((name) => ever.has(name) || stood(name));
  if (ever.size === 0) {
    useOperate.setState({ phase: "ready", hand: STILL });
    touch([thing.id]);
    notice(
      "Nothing was recorded: the hand did nothing.",
      "Move the mouse over the picture, hold an arrow key, or push a stick.",
    );
    return;
  }
  const command: Does<"pass.record"> = {
    kind: "pass.record",
    id: newId("pas"),
    thing: thing.id,
    at: at.map((one) => Number(one.toFixed(4))),
    hand: names.map((name) => ({ channel: name, by: by[name].map((one) => tidy(name, one)) })),
    on_top: goesOnTop(),
  };
  const problem = await send(command);
  useOperate.setState({ phase: "ready", hand: STILL });
  touch([thing.id]);
  if (!complain(problem)) return;
  goStage(first);
  const pass = useDocument.getState().scene?.passes.find((one) => one.id === command.id);
  if (pass && !pass.in_use) notice(lastSentence(), "Change what stands in its way, then use the pass.");
}

/** The keyboard of whoever operates; says whether the key was for it. */
export function operatorKey(e: KeyboardEvent, isDown: boolean): boolean {
  const { thing, phase } = useOperate.getState();
  if (!thing) return false;
  if (phase === "recording" && e.key.startsWith("Arrow")) {
    if (isDown) held.add(e.key);
    else held.delete(e.key);
    return true;
  }
  if (!isDown || e.repeat) return false;
  if (e.key === "Enter") {
    record();
    return true;
  }
  if (e.key === "Escape") {
    if (phase === "ready") letGoOfIt();
    else drop();
    return true;
  }
  if (e.key === " " && phase === "counting") {
    drop();
    return true;
  }
  return false;
}

/** A gamepad that is pulled out while it records ends the pass: what was recorded is kept. */
export function padGone(): void {
  if (useOperate.getState().phase !== "recording" || pluggedIn()) return;
  notice(
    "The gamepad is gone. What was recorded until then is saved.",
    "Plug it in again, or show a pad on the screen.",
    false,
  );
  pause();
}

/** Put the pad on the screen there, or away; put away while it records, it is as if it were pulled out. */
export function showPad(shown: boolean): void {
  useScreenPad.setState({ shown, axes: [0, 0, 0, 0], held: [] });
  if (!shown) padGone();
}
