import { type KeyboardEvent, useState } from "react";
import { useDocument } from "../store/document";
import { standingPieces } from "../store/parts";
import { type Point, useSpace } from "../store/space";
import { type Kind, select, useView } from "../store/view";
import { carry } from "../verbs/carry";

const STEP = 0.05;
const BIG = 0.5;
const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

let last: Promise<unknown> = Promise.resolve();

/** Move what is selected, one step after the other. */
function nudge([x, z]: Point, big: boolean): void {
  const step = big ? BIG : STEP;
  last = last.then(() => {
    const { kind, ids } = useView.getState();
    const what = kind && ids.length ? carry(kind, ids[0]) : null;
    return what?.keep({ dx: x * step, dy: 0, dz: z * step, free: false });
  });
}

/** Select the next thing on the stage, or the one before. */
function selectNext(by: 1 | -1): void {
  const { scene } = useDocument.getState();
  if (!scene) return;
  const all: [Kind, string][] = [
    ...scene.figures.map((t): [Kind, string] => ["figure", t.id]),
    ...scene.movers.map((t): [Kind, string] => ["mover", t.id]),
    ...scene.cameras.map((t): [Kind, string] => ["camera", t.id]),
    ...scene.perches.map((t): [Kind, string] => ["perch", t.id]),
    ...standingPieces(scene.pieces).map((t): [Kind, string] => ["piece", t.id]),
  ];
  const at = all.findIndex(([, id]) => id === useView.getState().ids[0]);
  const next = all[(at < 0 ? (by > 0 ? 0 : all.length - 1) : at + by + all.length) % all.length];
  if (next) select(next[0], [next[1]]);
}

/** The plan without a mouse: a point moved by the arrows stands for the hand while a tool is up. */
export function usePlanKeys(press: (at: Point) => void): {
  cross: Point | null;
  onKeyDown: (e: KeyboardEvent) => void;
  /** The mouse points again. */
  drop: () => void;
} {
  const [cross, setCross] = useState<Point | null>(null);
  const pointing = useView((s) => s.tool !== "select" || s.picking !== null);
  const at = (): Point => cross ?? [useSpace.getState().cx, useSpace.getState().cz];
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const way = WAYS[e.key];
    if (way && pointing) {
      const step = e.shiftKey ? 1 : 0.1;
      const [x, z] = at();
      setCross([
        Math.round((x + way[0] * step) * 1000) / 1000,
        Math.round((z + way[1] * step) * 1000) / 1000,
      ]);
    } else if (way && useView.getState().ids.length) nudge(way, e.shiftKey);
    else if (e.key === "Enter" && pointing) {
      setCross(at());
      press(at());
    } else if (e.key === "PageDown") selectNext(1);
    else if (e.key === "PageUp") selectNext(-1);
    else return;
    e.preventDefault();
  };
  return { cross: pointing ? cross : null, onKeyDown, drop: () => setCross(null) };
}
