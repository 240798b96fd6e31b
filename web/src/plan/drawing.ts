import { type PointerEvent, type RefObject, useCallback, useEffect, useRef, useState } from "react";
import type { Piece, Pointed } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { moverColumns, rowOf } from "../store/samples";
import { dropOverlay, endTry } from "../store/sending";
import { type Point, snap, toStage, useSpace } from "../store/space";
import { select, type Tool, useView } from "../store/view";
import { drawRail, pointOut } from "../verbs/rig";
import { drawCourse, drawCrowd, drawing, drawWalk, isPiece, standFigure } from "../verbs/staging";
import { useGrab } from "./grab";

/** A press of two clicks puts two points in one place. */
const apart = (points: Point[]): Point[] =>
  points.filter((p, i) => i === 0 || p[0] !== points[i - 1][0] || p[1] !== points[i - 1][1]);

/** Tools that draw a line of points, and what they make. */
const LINES: Partial<Record<Tool, (points: Point[], freehand?: boolean) => Promise<void>>> = {
  walk: (points, freehand) => drawWalk(apart(points), freehand),
  rail: (points) => drawRail(apart(points)),
  course: (points, freehand) => drawCourse(apart(points), freehand),
  crowd: (points) => drawCrowd(apart(points)),
};

/** Where a walk that is drawn now would begin: where the figure stands at this frame, or when it is free again. */
function walkStart(who: string): Point | null {
  const row = rowOf(who, useMoment.getState().stage);
  return row ? [row[0], row[2]] : null;
}

/** The selected mover; empty when there is none. */
function chosenMover(): string {
  const { kind, ids } = useView.getState();
  return kind === "mover" ? (ids[0] ?? "") : "";
}

/** A line drawn by hand has a point in so many metres. */
const HAND_M = 0.1;

/** How near the point of the keyboard must be to somebody to mean them, metres. */
const AT = 0.6;

/** The figure or mover that the point of the keyboard stands on. */
function standingAt([x, z]: Point): Pointed | null {
  const scene = useDocument.getState().shown;
  const { stage } = useMoment.getState();
  const of = moverColumns();
  const all: [number, Pointed][] = [
    ...(scene?.figures ?? []).flatMap(({ id }): [number, Pointed][] => {
      const row = rowOf(id, stage);
      return row ? [[Math.hypot(row[0] - x, row[2] - z), { kind: "figure", figure: id, joint: "eyes" }]] : [];
    }),
    ...(scene?.movers ?? []).flatMap(({ id }): [number, Pointed][] => {
      const row = rowOf(id, stage);
      return row ? [[Math.hypot(row[of.x] - x, row[of.z] - z), { kind: "mover", mover: id }]] : [];
    }),
  ];
  const [far, on] = all.sort((a, b) => a[0] - b[0])[0] ?? [];
  return on && far < AT ? on : null;
}

/** The tool in hand on the bare sheet, by mouse or by keys: what it does there, and what it has drawn so far. */
export function useDrawing(sheet: RefObject<SVGSVGElement | null>) {
  const tool = useView((s) => s.tool);
  const figure = useView((s) => (s.kind === "figure" ? s.ids[0] : undefined));
  const scene = useDocument((s) => s.shown);
  const [drawn, setDrawn] = useState<string | null>(null);
  const line = LINES[tool];
  const [walk, setWalk] = useState<Point[]>([]);
  const [over, setOver] = useState<Point | null>(null);
  /** Whether the keyboard points, so that Enter puts down a point. */
  const pointed = useRef(false);
  const letGo = useCallback(() => {
    endTry();
    dropOverlay();
    setDrawn(null);
  }, []);
  const hold = useGrab(sheet, letGo);
  useEffect(() => {
    if (!line) {
      setWalk((w) => (w.length ? [] : w));
      return;
    }
    const end = (e: KeyboardEvent) => {
      // On the plan itself Enter puts a point down first.
      const here = pointed.current && document.activeElement === sheet.current;
      if (e.key === "Enter" && !here) void line(walk);
      if (e.key === "Backspace") setWalk((w) => w.slice(0, -1));
      if ((e.key === "Enter" && !here) || e.key === "Backspace") e.stopImmediatePropagation();
    };
    window.addEventListener("keydown", end, true);
    return () => window.removeEventListener("keydown", end, true);
  }, [line, walk, sheet]);

  const take = hold((from, e) => {
    const placed = (at: Point): Point => [snap(at[0], false), snap(at[1], false)];
    if (useView.getState().picking && e.button === 0)
      return {
        drop: ([x, z], moved) => {
          if (moved) return;
          const piece = (e.target as Element).closest<SVGElement>("[data-id]")?.dataset.id;
          if (piece) pointOut({ kind: "piece_at", piece, x, z });
          else pointOut({ kind: "point", x: snap(x, true), y: 0, z: snap(z, true), of: "the ground" });
        },
      };
    if (tool === "figure" && e.button === 0) return { drop: (at) => void standFigure(placed(at)) };
    if (line && e.button === 0) {
      // A press puts a point down; a line drawn by hand is the whole way.
      const drawnBy: Point[] = [...walk, from];
      return {
        move: (at) => {
          const last = drawnBy[drawnBy.length - 1];
          if (tool === "rail" || Math.hypot(at[0] - last[0], at[1] - last[1]) < HAND_M) return;
          drawnBy.push(at);
          setWalk([...drawnBy]);
        },
        drop: (at, moved) => {
          if (!moved) setWalk((w) => [...w, placed(at)]);
          else if (tool !== "rail") void line([...drawnBy, at], true);
        },
      };
    }
    if (isPiece(tool) && e.button === 0) {
      const a: Point = [snap(from[0], e.altKey), snap(from[1], e.altKey)];
      const piece = drawing(tool, a);
      setDrawn(piece.id);
      return {
        move: (at, hand) => piece.move([snap(at[0], hand.alt), snap(at[1], hand.alt)]),
        drop: (at, moved, hand) => {
          setDrawn(null);
          void piece.drop(moved ? [snap(at[0], hand.alt), snap(at[1], hand.alt)] : a);
        },
      };
    }
    const start = useSpace.getState();
    return {
      move: (_, hand) =>
        useSpace.setState({ cx: start.cx - hand.dx / start.scale, cz: start.cz - hand.dy / start.scale }),
      drop: (_, moved) => {
        if (!moved && tool === "select" && e.button === 0) select(null);
      },
    };
  });

  /** A press of Enter where the arrows have moved the point to. */
  const press = (at: Point) => {
    const [x, z] = at;
    if (useView.getState().picking)
      pointOut(
        standingAt(at) ?? { kind: "point", x: snap(x, true), y: 0, z: snap(z, true), of: "the ground" },
      );
    else if (tool === "figure") void standFigure(at);
    else if (isPiece(tool)) void drawing(tool, at).drop(at);
    else if (line) {
      const before = walk[walk.length - 1];
      if (before && before[0] === x && before[1] === z) void line(walk);
      else setWalk([...walk, at]);
    }
  };
  const follow = (e: PointerEvent) => {
    const box = sheet.current?.getBoundingClientRect();
    if (!line || !box) return;
    setOver(toStage(useSpace.getState(), e.clientX - box.left, e.clientY - box.top));
  };
  const start = (tool === "walk" && figure) || tool === "course" ? walkStart(figure ?? chosenMover()) : null;
  return {
    hold,
    take,
    press,
    pointed,
    follow,
    /** The walk, or the rail, is drawn to its end. */
    end: () => line && void line(walk),
    points: apart(walk).length,
    shape: scene?.pieces.find((p: Piece) => p.id === drawn),
    trail: line ? [...(start ? [start] : []), ...walk, ...(over ? [over] : [])] : [],
  };
}
