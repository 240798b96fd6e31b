import { ask, client } from "../api/client";
import {
  rowAt,
  type Samples,
  unpackCut,
  unpackMixed,
  unpackSamples,
  unpackStrip,
  unsealed,
} from "../api/samples";
import type { ChangedOut, ChangesOut, Command, PreviewOut, Problem, Scene, SceneOut } from "../api/types";
import { refreshCurves, strangeCurves, takeCurves, unpackCurves, useCurves } from "./curves";
import { EMPTY, showing, useDocument } from "./document";
import { contentUrl, PAST } from "./past";
import { applyPatch } from "./patch";
import {
  CUT,
  fetchBaked,
  fetchRest,
  forgetSamples,
  LINES,
  rowOf,
  SOUNDS,
  samplesOf,
  takeIn,
  touch,
} from "./samples";

/** With more cameras than this, those not looked through are fetched once the desk has opened. */
const CAMERAS_AT_ONCE = 12;

/** Things that are looked at: their samples come with the answer to a change. The view says which. */
let looked: () => string[] = () => [];
export function lookAt(things: () => string[]): void {
  looked = things;
}

const look = () => [CUT, LINES, SOUNDS, ...looked()].slice(0, 8);

/** Whose curves are looked at, so that they come with every answer. */
const curved = () => {
  const { thing } = useCurves.getState();
  return thing ? [thing] : [];
};

async function arrive(answer: ChangedOut): Promise<void> {
  const before = useDocument.getState();
  if (!before.scene || before.id === null) return;
  for (const [thing, content] of Object.entries(answer.samples))
    takeIn(thing, answer.keys[thing], unsealed(content));
  await fetchBaked(before.id, answer.keys);
  const tried = Object.keys(before.overlay?.samples ?? {});
  takeCurves(answer.curves);
  useDocument.setState((now) => {
    const scene = applyPatch(now.scene as Scene, answer.patch);
    return {
      revision: answer.revision,
      said: answer.sentence,
      ...showing(scene, null),
      keys: answer.keys,
      canUndo: answer.can_undo,
      canRedo: answer.can_redo,
    };
  });
  touch([...tried, ...Object.keys(answer.samples)]);
  if (answer.curves && strangeCurves()) void refreshCurves();
}

const getScene = (id: number) =>
  ask(client.GET("/api/scenes/{scene_id}", { params: { path: { scene_id: id }, query: { at: PAST } } }));

let opening: { id: number; done: Promise<Problem | null> } | null = null;

/** Begin to open a scene before the desk that will show it is there. */
export function expectScene(id: number, through: string | null): void {
  opening = { id, done: open(id, through) };
}

export function openScene(id: number, through: string | null = null): Promise<Problem | null> {
  const early = opening?.id === id ? opening.done : null;
  opening = null;
  return early ?? open(id, through);
}

async function open(id: number, through: string | null): Promise<Problem | null> {
  const { data, problem } = await getScene(id);
  if (problem) return problem;
  await adopt(data as SceneOut, through?.toUpperCase());
  // The shapes are wanted when the picture draws; by then they are in the browser's store.
  for (const [thing, key] of Object.entries((data as SceneOut).keys))
    if (thing.startsWith("shape:"))
      void fetch(contentUrl(id, `shapes/${thing.slice(6)}.glb`, key)).catch(() => {});
  return null;
}

async function adopt(answer: SceneOut, through: string | null = null): Promise<void> {
  if (useDocument.getState().id !== answer.id) forgetSamples();
  const { cameras, shots } = answer.scene;
  const many = cameras.length > CAMERAS_AT_ONCE;
  const first = many ? (cameras.find((c) => c.letter === through)?.id ?? shots[0]?.camera) : null;
  const later = new Set(many ? cameras.map((c) => c.id).filter((id) => id !== first) : []);
  await fetchBaked(answer.id, answer.keys, new Set(Object.keys(answer.keys).filter((t) => !later.has(t))));
  useDocument.setState({
    id: answer.id,
    revision: answer.revision,
    ...showing(answer.scene, null),
    keys: answer.keys,
    canUndo: answer.can_undo,
    canRedo: answer.can_redo,
    repairs: answer.repairs,
  });
  if (many) void fetchRest(answer.id, answer.keys);
}

export function closeScene(): void {
  forgetSamples();
  useDocument.setState({ ...EMPTY, busy: useDocument.getState().busy });
}

/** Changes go one after the other, each from what the last one left. */
let line: Promise<unknown> = Promise.resolve();

function inLine<T>(work: () => Promise<T>): Promise<T> {
  const turn = line.then(work, work);
  line = turn;
  return turn;
}

function during<T>(work: () => Promise<T>): Promise<T> {
  useDocument.setState((s) => ({ busy: s.busy + 1 }));
  return inLine(work).finally(() => useDocument.setState((s) => ({ busy: s.busy - 1 })));
}

/** Whether a command, or one of those it is made of, is of the cut. */
const ofCut = (command: Command): boolean =>
  command.kind === "together"
    ? (command.commands as unknown as Command[]).some(ofCut)
    : command.kind.startsWith("shot") || command.kind.startsWith("cut");

/** A command as it is sent: while a shot is dressed, for that shot alone; edits of the cut always change the scene. */
function meant(command: Command): Command {
  const shot = useDocument.getState().dress;
  return shot && !ofCut(command)
    ? { kind: "shot.dress", shot, command: command as unknown as Record<string, never> }
    : command;
}

/** What of the cut cannot be changed while another one that is proposed plays in its place. */
function outOfTurn(command: Command): Problem | null {
  const { overlay } = useDocument.getState();
  if (!overlay?.cut || !ofCut(command) || command.kind === "cut.assemble") return null;
  return {
    title: "A proposed cut plays.",
    detail: "A proposed cut plays.",
    remedy: "Take it, or choose “As it is”, then change the cut.",
    status: 400,
  };
}

/** Do a command. `seen` is the revision its sender was looking at; left out, the newest one here. */
export function send(command: Command, seen?: number): Promise<Problem | null> {
  const wrong = outOfTurn(command);
  if (wrong) return Promise.resolve(wrong);
  return during(async () => {
    const { id, revision } = useDocument.getState();
    if (id === null) return null;
    const { data, problem } = await ask(
      client.POST("/api/scenes/{scene_id}/commands", {
        params: { path: { scene_id: id } },
        body: { seen: seen ?? revision, command: meant(command), look: look(), curves: curved() },
      }),
    );
    useDocument.setState({ unkept: problem?.not_kept ?? false });
    if (problem) {
      dropOverlay();
      if (problem.status === 409) await catchUp();
      return problem;
    }
    await land(data as ChangedOut);
    return null;
  });
}

/** Several commands as one. */
export function together(commands: Command[]): Command {
  if (commands.length === 1) return commands[0];
  return { kind: "together", commands: commands as unknown as Record<string, never>[], sentence: "" };
}

/** Commands as one step: all or none, and one undo. */
export function sendAll(commands: Command[]): Promise<Problem | null> {
  return commands.length ? send(together(commands)) : Promise.resolve(null);
}

export function turnBack(which: "undo" | "redo"): Promise<Problem | null> {
  return during(async () => {
    const { id } = useDocument.getState();
    if (id === null) return null;
    const asked = { params: { path: { scene_id: id } }, body: { look: look(), curves: curved() } };
    const { data, problem } = await ask(
      which === "undo"
        ? client.POST("/api/scenes/{scene_id}/undo", asked)
        : client.POST("/api/scenes/{scene_id}/redo", asked),
    );
    useDocument.setState({ unkept: problem?.not_kept ?? false });
    if (problem) return problem;
    await land(data as ChangedOut);
    return null;
  });
}

/** Take in an answer; where someone else's changes lie between, those first, from the log. */
async function land(answer: ChangedOut): Promise<void> {
  const { revision } = useDocument.getState();
  if (answer.revision === revision || answer.revision === revision + 1) await arrive(answer);
  else await catchUp();
}

/** What changed since what is shown here, from the log, without loading the scene again. */
async function catchUp(): Promise<void> {
  const { id, revision, scene } = useDocument.getState();
  if (id === null || !scene) return;
  const { data } = await ask(
    client.GET("/api/scenes/{scene_id}/changes", {
      params: { path: { scene_id: id }, query: { since: revision } },
    }),
  );
  if (!data) return;
  const answer = data as ChangesOut;
  if (answer.revision < revision || answer.changes.length !== answer.revision - revision) {
    // The log here does not lead on from what is shown: begin again.
    const { data: whole } = await getScene(id);
    if (whole) await adopt(whole as SceneOut);
    return;
  }
  await fetchBaked(id, answer.keys);
  useDocument.setState((now) => {
    const next = answer.changes.reduce((s, change) => applyPatch(s, change.patch), now.scene as Scene);
    return {
      revision: answer.revision,
      ...showing(next, now.overlay),
      keys: answer.keys,
      canUndo: answer.can_undo,
      canRedo: answer.can_redo,
    };
  });
  await refreshCurves();
}

/** Follow what others do to the scene that is open, as it happens; the answer ends it. */
export function watchScene(onGone: () => void): () => void {
  const { id, revision } = useDocument.getState();
  const source = new EventSource(`/api/scenes/${id}/events?seen=${revision}`);
  source.addEventListener("change", (e) => {
    const newest = Number((e as MessageEvent).data);
    void inLine(async () => {
      if (newest > useDocument.getState().revision) await catchUp();
    });
  });
  source.addEventListener("gone", () => {
    source.close();
    onGone();
  });
  return () => source.close();
}

/** What the desk goes back to trying out whenever something else that was tried is let go of. */
let proposed: { command: Command; first: number; last: number } | null = null;

/** Try out what is proposed, and stay with it until another, or nothing, is. */
export function propose(command: Command | null, first = 0, last = first): void {
  proposed = command && { command, first, last };
  if (command) {
    tryOut(command, first, last);
    return;
  }
  endTry();
  dropOverlay();
}

export function dropOverlay(): void {
  const { overlay } = useDocument.getState();
  if (proposed) {
    tryOut(proposed.command, proposed.first, proposed.last);
    return;
  }
  if (!overlay) return;
  useDocument.setState((s) => showing(s.scene, null));
  touch([...Object.keys(overlay.samples), CUT, LINES]);
}

let trying: { command: Command; first: number; last: number } | null = null;
let underWay = false;
let tryNumber = 0;

/** Show what a command would do at a frame (or over a range), newest wins; returns at once. */
export function tryOut(command: Command, first: number, last = first): void {
  const wrong = outOfTurn(command);
  if (wrong) {
    useDocument.setState({ refused: `${wrong.title} ${wrong.remedy}` });
    return;
  }
  trying = { command, first, last };
  if (!underWay) void tryNext();
}

/** Forget a try that has not come back yet. */
export function endTry(): void {
  trying = null;
  tryNumber += 1;
  useDocument.setState({ refused: null });
}

/** What a command would do over some frames, or why it cannot be done. */
export async function preview(command: Command, first: number, last = first) {
  const { id } = useDocument.getState();
  if (id === null) return { data: null, problem: null };
  const { data, problem } = await ask(
    client.POST("/api/scenes/{scene_id}/preview", {
      params: { path: { scene_id: id } },
      body: {
        command: meant(command),
        frames: { first, last },
        curves: curved(),
        strip: useCurves.getState().watched,
        whole_cut: command === proposed?.command,
      },
    }),
  );
  if (!data) return { data: null, problem };
  const answer = data as PreviewOut;
  const samples = Object.fromEntries(
    Object.entries(answer.samples).map(([thing, content]) => [thing, unpackSamples(unsealed(content))]),
  );
  return {
    data: {
      command,
      sentence: answer.sentence,
      patch: answer.patch,
      placed: answer.placed,
      lines: answer.lines,
      cut: answer.cut ? unpackCut(unsealed(answer.cut)) : null,
      mixed: answer.mixed === null ? null : unpackMixed(unsealed(answer.mixed)),
      samples,
      curves: unpackCurves(answer.curves),
      strip: answer.strip ? unpackStrip(answer.strip) : null,
    },
    problem: null,
  };
}

/** Whether a try's samples of a thing are what is drawn already: a key far from this frame changes no picture. */
function isShown(thing: string, tried: Samples): boolean {
  const known = useDocument.getState().overlay?.samples[thing] ?? samplesOf(thing);
  if (!known || tried.first !== tried.last || JSON.stringify(known.facts) !== JSON.stringify(tried.facts))
    return false;
  const now = rowOf(thing, tried.first);
  const then = rowAt(tried, tried.first);
  return now !== null && now.length === then.length && now.every((value, i) => value === then[i]);
}

async function tryNext(): Promise<void> {
  underWay = true;
  while (trying) {
    const { command, first, last } = trying;
    trying = null;
    const number = tryNumber;
    const started = performance.now();
    const { data, problem } = await preview(command, first, last);
    if (number === tryNumber) useDocument.setState({ refused: problem ? problem.detail : null });
    if (data && number === tryNumber) {
      const was = Object.keys(useDocument.getState().overlay?.samples ?? {});
      const same = new Set(Object.keys(data.samples).filter((thing) => isShown(thing, data.samples[thing])));
      useDocument.setState((s) => showing(s.scene, data));
      const touched = [...was, ...Object.keys(data.samples)].filter((thing) => !same.has(thing));
      touch(new Set([...touched, ...(data.placed ? [CUT] : []), ...(data.lines ? [LINES] : [])]));
    }
    const rest = 33 - (performance.now() - started);
    if (trying && rest > 0) await new Promise((go) => setTimeout(go, rest));
  }
  underWay = false;
}

/** What the last change was, as the history says it. */
export const lastSentence = (): string => useDocument.getState().said;
