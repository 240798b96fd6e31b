import { create } from "zustand";
import { ask, client } from "../api/client";
import { type CutTable, rowAt, type Samples, unpackCut, unpackSamples } from "../api/samples";
import type { ChangedOut, Command, Patch, PreviewOut, Problem, Scene, SceneOut, Table } from "../api/types";

/** What a drag would do, as the server computed it: drawn, not kept. */
export interface Overlay {
  patch: Patch;
  rows: Record<string, Float32Array>;
  placed: CutTable["shots"] | null;
  frame: number;
}

interface DocumentState {
  id: number | null;
  revision: number;
  /** The stored scene. */
  scene: Scene | null;
  /** The stored scene with the drag in hand applied: what is drawn. */
  shown: Scene | null;
  overlay: Overlay | null;
  keys: Record<string, string>;
  canUndo: boolean;
  canRedo: boolean;
  busy: number;
  /** Grows whenever any samples change, so that pictures know to draw again. */
  baked: number;
}

export const useDocument = create<DocumentState>(() => ({
  id: null,
  revision: 0,
  scene: null,
  shown: null,
  overlay: null,
  keys: {},
  canUndo: false,
  canRedo: false,
  busy: 0,
  baked: 0,
}));

// For anyone who has to wait for the desk from outside.
useDocument.subscribe((s) => {
  document.documentElement.dataset.kept = String(s.busy === 0);
});

const samples = new Map<string, { key: string; samples: Samples }>();
let cut: CutTable | null = null;
let cutKey = "";

export const samplesOf = (thing: string): Samples | null => samples.get(thing)?.samples ?? null;
/** Where each value stands in a camera's row; the same for all cameras. */
export function cameraColumns(): Record<string, number> {
  for (const { samples: found } of samples.values()) if ("gain" in found.columns) return found.columns;
  return {};
}

export const cutTable = (): CutTable | null => cut;

/** Where the shots lie in the cut: as the edit in hand would leave them, else as stored. */
export const placedShots = (): CutTable["shots"] =>
  useDocument.getState().overlay?.placed ?? cut?.shots ?? [];

/** The sample row of a thing at a stage frame: the drag in hand first, else what is stored. */
export function rowOf(thing: string, frame: number): Float32Array | null {
  const overlay = useDocument.getState().overlay;
  if (overlay && overlay.frame === frame && overlay.rows[thing]) return overlay.rows[thing];
  const found = samples.get(thing)?.samples;
  return found ? rowAt(found, frame) : null;
}

export function applyPatch(scene: Scene, patch: Patch): Scene {
  const out = { ...scene, ...(patch.settings as Partial<Scene>) } as Scene;
  for (const table of new Set([...Object.keys(patch.items), ...Object.keys(patch.order)]) as Set<Table>) {
    const now = new Map((out[table] as { id: string }[]).map((item) => [item.id, item]));
    for (const [id, content] of Object.entries(patch.items[table] ?? {})) {
      if (content === null) now.delete(id);
      else now.set(id, content as unknown as { id: string });
    }
    const wanted = new Set([...(patch.order[table] ?? []), ...now.keys()]);
    (out[table] as unknown[]) = [...wanted].flatMap((id) => now.get(id) ?? []);
  }
  return out;
}

/** With more cameras than this, those not looked through are fetched once the desk has opened. */
const CAMERAS_AT_ONCE = 12;
const LINES = 4;

/** Fetch what is missing in the background, a few at a time, and have it drawn as it comes. */
async function fetchRest(id: number, keys: Record<string, string>): Promise<void> {
  const rest = Object.keys(keys).filter(
    (t) => !t.startsWith("shape:") && t !== "cut" && samples.get(t)?.key !== keys[t],
  );
  const current = () => useDocument.getState().id === id;
  await Promise.all(
    Array.from({ length: LINES }, async () => {
      for (let thing = rest.shift(); thing && current(); thing = rest.shift()) {
        await fetchBaked(id, { ...useDocument.getState().keys }, new Set([thing]));
        if (rest.length % 8 === 0 && current()) useDocument.setState((s) => ({ baked: s.baked + 1 }));
      }
    }),
  );
}

async function fetchBaked(id: number, keys: Record<string, string>, only?: Set<string>): Promise<void> {
  const wanted = Object.entries(keys).filter(([thing, key]) => {
    if (thing.startsWith("shape:") || (only && !only.has(thing))) return false;
    return thing === "cut" ? key !== cutKey : samples.get(thing)?.key !== key;
  });
  await Promise.all(
    wanted.map(async ([thing, key]) => {
      const answer = await fetch(`/api/scenes/${id}/samples/${thing}?key=${key}`);
      if (!answer.ok) return;
      const buffer = await answer.arrayBuffer();
      if (thing === "cut") {
        cut = unpackCut(buffer);
        cutKey = key;
      } else samples.set(thing, { key, samples: unpackSamples(buffer) });
    }),
  );
  for (const thing of samples.keys()) if (!(thing in keys)) samples.delete(thing);
}

async function arrive(answer: ChangedOut): Promise<void> {
  const before = useDocument.getState();
  if (!before.scene || before.id === null) return;
  await fetchBaked(before.id, answer.keys);
  useDocument.setState((now) => {
    const scene = applyPatch(now.scene as Scene, answer.patch);
    return {
      revision: answer.revision,
      scene,
      shown: scene,
      overlay: null,
      keys: answer.keys,
      canUndo: answer.can_undo,
      canRedo: answer.can_redo,
      baked: now.baked + 1,
    };
  });
}

const getScene = (id: number) =>
  ask(client.GET("/api/scenes/{scene_id}", { params: { path: { scene_id: id } } }));

let opening: { id: number; done: Promise<Problem | null> } | null = null;

/** Begin to open a scene before the desk that will show it is there. */
export function expectScene(id: number, look: string | null): void {
  opening = { id, done: open(id, look) };
}

export function openScene(id: number, look: string | null = null): Promise<Problem | null> {
  const early = opening?.id === id ? opening.done : null;
  opening = null;
  return early ?? open(id, look);
}

async function open(id: number, look: string | null): Promise<Problem | null> {
  const { data, problem } = await getScene(id);
  if (problem) return problem;
  await adopt(data as SceneOut, look?.toUpperCase());
  // The shapes are wanted when the picture draws; by then they are in the browser's store.
  for (const [thing, key] of Object.entries((data as SceneOut).keys))
    if (thing.startsWith("shape:")) void fetch(`/api/scenes/${id}/shapes/${thing.slice(6)}.glb?key=${key}`);
  return null;
}

async function adopt(answer: SceneOut, look: string | null = null): Promise<void> {
  if (useDocument.getState().id !== answer.id) {
    samples.clear();
    cut = null;
    cutKey = "";
  }
  const { cameras, shots } = answer.scene;
  const many = cameras.length > CAMERAS_AT_ONCE;
  const first = many ? (cameras.find((c) => c.letter === look)?.id ?? shots[0]?.camera) : null;
  const later = new Set(many ? cameras.map((c) => c.id).filter((id) => id !== first) : []);
  await fetchBaked(answer.id, answer.keys, new Set(Object.keys(answer.keys).filter((t) => !later.has(t))));
  useDocument.setState((now) => ({
    id: answer.id,
    revision: answer.revision,
    scene: answer.scene,
    shown: answer.scene,
    overlay: null,
    keys: answer.keys,
    canUndo: answer.can_undo,
    canRedo: answer.can_redo,
    baked: now.baked + 1,
  }));
  if (many) void fetchRest(answer.id, answer.keys);
}

export function closeScene(): void {
  samples.clear();
  cut = null;
  cutKey = "";
  useDocument.setState({ id: null, scene: null, shown: null, overlay: null, keys: {}, revision: 0 });
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

/** Do a command. `seen` is the revision its sender was looking at; left out, the newest one here. */
export function send(command: Command, seen?: number): Promise<Problem | null> {
  return during(async () => {
    const { id, revision } = useDocument.getState();
    if (id === null) return null;
    const { data, problem } = await ask(
      client.POST("/api/scenes/{scene_id}/commands", {
        params: { path: { scene_id: id } },
        body: { seen: seen ?? revision, command },
      }),
    );
    if (problem) {
      dropOverlay();
      if (problem.status === 409) await refresh();
      return problem;
    }
    await arrive(data as ChangedOut);
    return null;
  });
}

export function turnBack(which: "undo" | "redo"): Promise<Problem | null> {
  return during(async () => {
    const { id } = useDocument.getState();
    if (id === null) return null;
    const path = { params: { path: { scene_id: id } } };
    const { data, problem } = await ask(
      which === "undo"
        ? client.POST("/api/scenes/{scene_id}/undo", path)
        : client.POST("/api/scenes/{scene_id}/redo", path),
    );
    if (problem) return problem;
    const now = useDocument.getState();
    // Someone else's edits may lie between; the patch alone would miss them.
    if ((data as ChangedOut).revision !== now.revision + 1) await refresh();
    else await arrive(data as ChangedOut);
    return null;
  });
}

async function refresh(): Promise<void> {
  const { id } = useDocument.getState();
  if (id === null) return;
  const { data } = await getScene(id);
  if (data) await adopt(data as SceneOut);
}

/** Look for what another window changed. */
export async function lookForChanges(): Promise<void> {
  const { id, revision, busy, overlay } = useDocument.getState();
  if (id === null || busy > 0 || overlay) return;
  const { data } = await ask(
    client.GET("/api/scenes/{scene_id}/head", { params: { path: { scene_id: id } } }),
  );
  if (data && data.revision !== revision && !useDocument.getState().overlay) await inLine(refresh);
}

export function dropOverlay(): void {
  useDocument.setState((s) => (s.overlay ? { overlay: null, shown: s.scene, baked: s.baked + 1 } : s));
}

let trying: { command: Command; frame: number } | null = null;
let underWay = false;
let tryNumber = 0;

/** Show what a command would do, newest wins; returns at once. */
export function tryOut(command: Command, frame: number): void {
  trying = { command, frame };
  if (!underWay) void tryNext();
}

/** Forget a try that has not come back yet. */
export function endTry(): void {
  trying = null;
  tryNumber += 1;
}

async function tryNext(): Promise<void> {
  underWay = true;
  while (trying) {
    const { command, frame } = trying;
    trying = null;
    const number = tryNumber;
    const started = performance.now();
    const { id } = useDocument.getState();
    if (id === null) break;
    const { data } = await ask(
      client.POST("/api/scenes/{scene_id}/preview", {
        params: { path: { scene_id: id } },
        body: { command, frame },
      }),
    );
    if (data && number === tryNumber) {
      const answer = data as PreviewOut;
      const rows = Object.fromEntries(Object.entries(answer.rows).map(([k, v]) => [k, Float32Array.from(v)]));
      useDocument.setState((s) => ({
        overlay: { patch: answer.patch, rows, placed: answer.placed, frame },
        shown: s.scene ? applyPatch(s.scene, answer.patch) : null,
        baked: s.baked + 1,
      }));
    }
    const rest = 33 - (performance.now() - started);
    if (trying && rest > 0) await new Promise((go) => setTimeout(go, rest));
  }
  underWay = false;
}

export const itemOf = <T extends Table>(scene: Scene | null, table: T, id: string | null) =>
  (scene?.[table] as Scene[T] | undefined)?.find((item) => item.id === id) as Scene[T][number] | undefined;
