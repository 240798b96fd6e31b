import { create } from "zustand";
import { useDocument } from "./document";
import { cutTable } from "./samples";

export type Clock = "stage" | "cut";

interface Moment {
  /** Which clock the hand is on: the stage's frames, or the cut's. */
  clock: Clock;
  stage: number;
  cut: number;
  /** The shot at this moment, by index; −1 where there is none. In a gap the picture is black. */
  shot: number;
  gap: boolean;
  playing: boolean;
  /** A range to play in a loop, in the clock it was set on. */
  loop: { clock: Clock; first: number; last: number } | null;
  looping: boolean;
  /** How fast it plays: all of real time, a half, a quarter. */
  speed: number;
  /** Frames that a loop begins early by. */
  preroll: number;
}

export const useMoment = create<Moment>(() => ({
  clock: "stage",
  stage: 1001,
  cut: 0,
  shot: -1,
  gap: false,
  playing: false,
  loop: null,
  looping: true,
  speed: 1,
  preroll: 0,
}));

const within = (n: number, first: number, last: number) => Math.min(Math.max(n, first), last);

/** First and last frame of the clock in use. */
export function span(clock: Clock): { first: number; last: number } {
  const scene = useDocument.getState().scene;
  if (clock === "cut") return { first: 0, last: Math.max((cutTable()?.length ?? 0) - 1, 0) };
  return scene ? scene.frames : { first: 1001, last: 1001 };
}

/** Go to a stage frame; the cut follows to where that frame is shown, if it is. */
export function goStage(frame: number): void {
  const { first, last } = span("stage");
  const stage = within(Math.round(frame), first, last);
  const table = cutTable();
  const now = useMoment.getState();
  // A moment of the cut that shows this frame is kept: a frame may be in several shots.
  const shows = table && now.shot >= 0 && table.stage[now.cut] === stage;
  const cut = shows ? now.cut : table ? table.firstCut[stage - table.first] : -1;
  useMoment.setState({
    clock: "stage",
    stage,
    cut: cut >= 0 ? cut : now.cut,
    shot: cut >= 0 && table ? table.shot[cut] : -1,
    gap: false,
  });
}

/** The cut frame that shows a stage frame: in the shot that is shown now, else the first one; null where none does. */
export function cutShowing(frame: number): number | null {
  const table = cutTable();
  const { shot } = useMoment.getState();
  if (!table) return null;
  const placed = table.shots[shot];
  if (placed)
    for (let cut = placed.cut_first; cut <= placed.cut_last; cut++)
      if (table.stage[cut] === frame) return cut;
  const at = table.firstCut[frame - table.first] ?? -1;
  return at >= 0 ? at : null;
}

/** Go to a cut frame; the stage follows to the action shown there. */
export function goCut(frame: number): void {
  const table = cutTable();
  if (!table || table.length === 0) return;
  const cut = within(Math.round(frame), 0, table.length - 1);
  const stage = table.stage[cut];
  useMoment.setState((s) => ({
    clock: "cut",
    cut,
    stage: stage >= 0 ? stage : s.stage,
    shot: table.shot[cut],
    gap: stage < 0,
  }));
}

export function go(frame: number): void {
  if (useMoment.getState().clock === "cut") goCut(frame);
  else goStage(frame);
}

export const here = (): number => {
  const { clock, stage, cut } = useMoment.getState();
  return clock === "cut" ? cut : stage;
};

export function step(by: number): void {
  pause();
  go(here() + by);
}

/** Frames a second as a number, only for the wall clock and to show seconds. */
export function rate(): number {
  const [top, bottom] = (useDocument.getState().scene?.rate ?? "24/1").split("/").map(Number);
  return top / bottom;
}

let ticket = 0;
/**
 * What plays: when it began, at which frame of which range, how fast (less than nothing, backwards; and in frames a
 * second), and whether it goes round.
 */
export interface Run {
  at: number;
  from: number;
  first: number;
  count: number;
  speed: number;
  perSecond: number;
  looping: boolean;
}

let began: Run | null = null;

/** What plays now, or played last: another one each time something begins to play. */
export const lastRun = (): Run | null => began;

/** The frame from which what plays has gone on without a break at a time of the page, and for how many seconds of it. */
export function playedSince(stamp: number): { start: number; seconds: number } | null {
  if (!began || began.speed < 0) return null;
  const { at, from, first, count, perSecond } = began;
  const passed = Math.max(stamp - at, 0) / 1000;
  // Each time round it begins again with the first frame.
  const rounds = Math.floor((from - first + passed * perSecond) / count);
  if (rounds < 1) return { start: from, seconds: passed };
  return { start: first, seconds: passed - (rounds * count - (from - first)) / perSecond };
}

export function pause(): void {
  ticket += 1;
  if (useMoment.getState().playing) useMoment.setState({ playing: false });
}

/** Play from here in real time, backwards if `way` is −1: the frame follows the clock, so slow pictures drop frames and never delay. */
export function play(way: 1 | -1 = 1): void {
  const { clock, loop, looping, speed: fast, preroll } = useMoment.getState();
  const whole = span(clock);
  const asked = loop && loop.clock === clock ? loop : whole;
  const range = { first: Math.max(asked.first - (loop ? preroll : 0), whole.first), last: asked.last };
  if (clock === "cut" && (cutTable()?.length ?? 0) === 0) return;
  let from = here();
  const [starts, ends] = way > 0 ? [range.first, range.last] : [range.last, range.first];
  if (from < range.first || from > range.last || from === ends) from = starts;
  const speed = fast * way;
  const perSecond = rate() * speed;
  const count = range.last - range.first + 1;
  const started = performance.now();
  const mine = ++ticket;
  const offset = from - range.first;
  began = { at: started, from, first: range.first, count, speed, perSecond, looping };
  useMoment.setState({ playing: true });
  go(from);
  let last = started;
  let between = 0;
  const tick = () => {
    if (ticket !== mine) return;
    const now = performance.now();
    // A picture stands until the next one: it shows the frame of the middle of that time.
    between += 0.2 * (Math.min(now - last, 250) - between);
    last = now;
    const passed = Math.floor(((now + between / 2 - started) / 1000) * Math.abs(perSecond)) * way;
    const at = offset + passed;
    if ((at >= count || at < 0) && !looping) {
      go(ends);
      pause();
      return;
    }
    const frame = range.first + (((at % count) + count) % count);
    if (frame !== here()) go(frame);
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}

/**
 * Play a range of the stage once in real time, at the speed that is set, telling at every step where it is, in frames
 * with fractions, and how many seconds the step took. `pause` ends it.
 */
export function playThrough(first: number, last: number, each: (at: number, seconds: number) => void): void {
  const { speed } = useMoment.getState();
  const perSecond = rate() * speed;
  const mine = ++ticket;
  const started = performance.now();
  let before = started;
  began = { at: started, from: first, first, count: last - first + 1, speed, perSecond, looping: false };
  goStage(first);
  useMoment.setState({ playing: true });
  each(first, 0);
  const tick = () => {
    if (ticket !== mine) return;
    const now = performance.now();
    const at = Math.min(first + ((now - started) / 1000) * perSecond, last);
    each(at, (now - before) / 1000);
    before = now;
    if (Math.floor(at) !== useMoment.getState().stage) goStage(Math.floor(at));
    if (at >= last) pause();
    else requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}

export const toggle = () => (useMoment.getState().playing ? pause() : play());

/** Play backwards, whatever plays now; or stop what plays so already. */
export function playBack(): void {
  const back = useMoment.getState().playing && (began?.speed ?? 0) < 0;
  pause();
  if (!back) play(-1);
}

/** Stay inside the scene and the cut when they change. */
export function settle(): void {
  const { clock, stage, cut } = useMoment.getState();
  if (clock === "cut" && (cutTable()?.length ?? 0) > 0) goCut(cut);
  else goStage(stage);
}

export function loopRange(range: { first: number; last: number } | null): void {
  const clock = useMoment.getState().clock;
  useMoment.setState({ loop: range && range.last > range.first ? { clock, ...range } : null });
}
