import { create } from "zustand";
import type { DrawnCurve, Samples, Strip } from "../api/samples";
import type { Command, CutTable, FinePatch, Scene, Table, TimedLine } from "../api/types";
import { applyPatch, dressed } from "./patch";

/** What a drag would do, as the server computed it: drawn, not kept. */
export interface Overlay {
  /** What is tried, and what it would do, in a sentence. */
  command: Command;
  sentence: string;
  patch: FinePatch;
  samples: Record<string, Samples>;
  placed: CutTable["shots"] | null;
  /** The whole cut that would play: of what is proposed, not of a drag. */
  cut: CutTable | null;
  /** The frames of the cut that are mixed, where those would be others. */
  mixed: CutTable["mixed"] | null;
  /** When lines would be said, where that would differ. */
  lines: TimedLine[] | null;
  /** Curves that would be others, by thing and channel. */
  curves: Record<string, Record<string, DrawnCurve>>;
  /** The strip that is looked at, as it would be. */
  strip: Strip | null;
}

interface DocumentState {
  id: number | null;
  revision: number;
  /** The stored scene. */
  scene: Scene | null;
  /** The stored scene with the drag in hand applied: what is drawn. */
  shown: Scene | null;
  overlay: Overlay | null;
  /** The shot that is dressed for itself: what a shot can have for itself is shown and changed as it has it. */
  dress: string | null;
  /** Why what is tried cannot be done. */
  refused: string | null;
  keys: Record<string, string>;
  canUndo: boolean;
  canRedo: boolean;
  busy: number;
  /** The last change could not be stored: it is nowhere but where it was typed. */
  unkept: boolean;
  /** What the last change was, as the history says it. */
  said: string;
  /** What was repaired when the scene was opened. */
  repairs: string[];
}

export const EMPTY: DocumentState = {
  id: null,
  revision: 0,
  scene: null,
  shown: null,
  overlay: null,
  dress: null,
  refused: null,
  keys: {},
  canUndo: false,
  canRedo: false,
  busy: 0,
  unkept: false,
  said: "",
  repairs: [],
};

export const useDocument = create<DocumentState>(() => EMPTY);

/** What is drawn: the scene with the drag in hand, as the shot has it that is dressed. */
export function showing(
  scene: Scene | null,
  overlay: Overlay | null,
  dress = useDocument.getState().dress,
): Pick<DocumentState, "scene" | "overlay" | "shown" | "dress"> {
  const tried = scene && overlay ? applyPatch(scene, overlay.patch) : scene;
  const there = dress && tried?.shots.some((shot) => shot.id === dress) ? dress : null;
  return { scene, overlay, dress: there, shown: tried && there ? dressed(tried, there) : tried };
}

/** The shots that a moment of the cut counts by: those of a cut that is proposed, else as stored. */
export const shotsPlayed = ({ scene, shown, overlay }: DocumentState): Scene["shots"] =>
  (overlay?.cut ? shown : scene)?.shots ?? NO_SHOTS;
const NO_SHOTS: Scene["shots"] = [];

/** The stored scene, as the shot has it that is dressed. */
export function storedScene(): Scene | null {
  const { scene, dress } = useDocument.getState();
  return scene && dress ? dressed(scene, dress) : scene;
}

/** Dress a shot for itself, or, with null, the scene again. */
export function dressShot(shot: string | null): void {
  useDocument.setState((s) => showing(s.scene, s.overlay, shot));
}

// For anyone who has to wait for the desk from outside.
useDocument.subscribe((s) => {
  if (typeof document !== "undefined") document.documentElement.dataset.kept = String(s.busy === 0);
});

export const itemOf = <T extends Table>(scene: Scene | null, table: T, id: string | null) =>
  (scene?.[table] as Scene[T] | undefined)?.find((item) => item.id === id) as Scene[T][number] | undefined;
