import {
  Box,
  BrickWall,
  Cylinder,
  Footprints,
  Image,
  Layers2,
  Maximize,
  MousePointer2,
  PersonStanding,
  TriangleRight,
  Wheat,
} from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Piece } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { rowOf } from "../store/samples";
import { dropOverlay, endTry } from "../store/sending";
import { fit, type Point, snap, toSheet, toStage, useSpace } from "../store/space";
import { select, type Tool, useView } from "../store/view";
import { Button } from "../ui/button";
import { focusOn } from "../verbs/glass";
import { drawing, drawWalk, isPiece, standFigure } from "../verbs/staging";
import { CameraMark, CameraPathMark, RoverMark } from "./camera-mark";
import { FigureMark, MoverMark, PathMark, WalkPoints } from "./figure-mark";
import { useGrab } from "./grab";
import { usePlanKeys } from "./keyboard";
import { PieceHandles, PieceMark } from "./piece-mark";
import { SunMark } from "./sun";

const TOOLS: { tool: Tool; label: string; tip: string; icon: typeof Box }[] = [
  { tool: "figure", label: "Figure", tip: "Figure: point at where it stands", icon: PersonStanding },
  {
    tool: "walk",
    label: "Walk",
    tip: "Walk: click points for the selected figure; double-click ends",
    icon: Footprints,
  },
  { tool: "box", label: "Box", tip: "Box: drag its footprint, or press for a metre", icon: Box },
  {
    tool: "post",
    label: "Post",
    tip: "Post: press where it stands, or drag from its middle",
    icon: Cylinder,
  },
  { tool: "wall", label: "Wall", tip: "Wall: drag its length, or press for 3 m", icon: BrickWall },
  {
    tool: "platform",
    label: "Platform",
    tip: "Platform or step that figures stand on: drag its footprint",
    icon: Layers2,
  },
  {
    tool: "ramp",
    label: "Ramp",
    tip: "Ramp: drag its footprint; it rises up the sheet",
    icon: TriangleRight,
  },
  { tool: "backdrop", label: "Backdrop", tip: "Backdrop: drag its length, or press for 6 m", icon: Image },
  { tool: "reeds", label: "Reeds", tip: "Reeds: drag their length, or press for 2.5 m", icon: Wheat },
];

function Tools() {
  const tool = useView((s) => s.tool);
  const figure = useView((s) => s.kind === "figure");
  const seenFrom = useView((s) => s.seenFrom);
  const flat = "border-transparent! bg-transparent px-0! w-[25px]";
  return (
    <div className="flex flex-wrap items-center px-1 py-1" role="toolbar" aria-label="Staging tools">
      <Button
        tip="Select and drag"
        hint="Esc"
        on={tool === "select"}
        className="w-[25px] border-transparent! px-0!"
        onClick={() => useView.setState({ tool: "select" })}
      >
        <MousePointer2 size={15} />
      </Button>
      {TOOLS.map(({ tool: name, label, tip, icon: Icon }) => (
        <Button
          key={name}
          tip={name === "walk" && !figure ? "Choose a figure first, then draw its walk" : tip}
          on={tool === name}
          aria-label={label}
          disabled={(name === "walk" && !figure) || seenFrom !== "above"}
          className={flat}
          onClick={() => useView.setState({ tool: tool === name ? "select" : name })}
        >
          <Icon size={16} />
        </Button>
      ))}
      <span className="flex-1" />
      <select
        aria-label="The plan is seen"
        title="Seen from above, or as an elevation  (E)"
        className="field w-14 px-0! text-xs"
        value={seenFrom}
        onKeyDown={(e) => e.stopPropagation()}
        onChange={(e) => {
          useView.setState({ seenFrom: e.target.value as typeof seenFrom, tool: "select" });
          e.currentTarget.blur();
        }}
      >
        <option value="above">Above</option>
        <option value="front">Front</option>
        <option value="side">Side</option>
      </select>
    </div>
  );
}

/** Metres along the bottom, so that a distance can be judged. */
function ScaleBar() {
  const scale = useSpace((s) => s.scale);
  const metres = [0.5, 1, 2, 5, 10, 20, 50].find((m) => m * scale > 56) ?? 100;
  return (
    <div className="pointer-events-none absolute bottom-2 left-3 text-xs text-ink">
      <div className="border-x border-b border-ink" style={{ width: metres * scale, height: 5 }} />
      {metres} m
    </div>
  );
}

function Grid() {
  const s = useSpace();
  const step = s.scale > 14 ? 1 : s.scale > 4 ? 5 : 20;
  const [x0, z0] = toStage(s, 0, 0);
  const [x1, z1] = toStage(s, s.width, s.height);
  const lines = [];
  for (let x = Math.ceil(x0 / step) * step; x <= x1; x += step)
    lines.push([...toSheet(s, x, z0), ...toSheet(s, x, z1), x]);
  for (let z = Math.ceil(z0 / step) * step; z <= z1; z += step)
    lines.push([...toSheet(s, x0, z), ...toSheet(s, x1, z), z]);
  return (
    <g pointerEvents="none">
      {lines.map(([ax, ay, bx, by, n]) => (
        <line
          key={`${ax},${ay},${bx}`}
          x1={ax}
          y1={ay}
          x2={bx}
          y2={by}
          stroke="var(--line)"
          strokeWidth={n === 0 ? 1.4 : 0.7}
          opacity={n % (step * 5) === 0 ? 0.8 : 0.4}
        />
      ))}
    </g>
  );
}

const Elevation = lazy(() => import("./elevation").then((m) => ({ default: m.Elevation })));

/** Where everything stands, from above, like a set designer's ground plan. Dragging here stages for real. */
export function Plan() {
  const sheet = useRef<SVGSVGElement>(null);
  const fitted = useRef(-1);
  const scene = useDocument((s) => s.shown);
  const sceneId = useDocument((s) => s.id);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const tool = useView((s) => s.tool);
  const picking = useView((s) => s.picking);
  const seenFrom = useView((s) => s.seenFrom);
  const space = useSpace();
  const [drawn, setDrawn] = useState<string | null>(null);
  const [walk, setWalk] = useState<Point[]>([]);
  const [over, setOver] = useState<Point | null>(null);
  const pointed = useRef(false);
  const letGo = useCallback(() => {
    endTry();
    dropOverlay();
    setDrawn(null);
  }, []);
  const hold = useGrab(sheet, letGo);

  useEffect(() => {
    const el = sheet.current;
    if (!el) return;
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      const was = useSpace.getState();
      if (was.width !== width || was.height !== height) useSpace.setState({ width, height });
      const { scene: now, id } = useDocument.getState();
      if (now && id !== fitted.current && entry.contentRect.width > 20) {
        fitted.current = id ?? -1;
        if (!useSpace.getState().recalled) fit(now);
      }
    });
    watch.observe(el);
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const now = useSpace.getState();
      const box = el.getBoundingClientRect();
      const [px, py] = [e.clientX - box.left, e.clientY - box.top];
      const [x, z] = toStage(now, px, py);
      const scale = Math.min(Math.max(now.scale * Math.exp(-e.deltaY * 0.0015), 1.5), 400);
      useSpace.setState({
        scale,
        cx: x - (px - now.width / 2) / scale,
        cz: z - (py - now.height / 2) / scale,
      });
    };
    const room = el.parentElement ?? el;
    room.addEventListener("wheel", wheel as EventListener, { passive: false });
    return () => {
      watch.disconnect();
      room.removeEventListener("wheel", wheel as EventListener);
    };
  }, []);
  useEffect(() => {
    if (scene && sceneId !== fitted.current && useSpace.getState().width > 20) {
      fitted.current = sceneId ?? -1;
      if (!useSpace.getState().recalled) fit(scene);
    }
  }, [scene, sceneId]);
  useEffect(() => {
    if (tool !== "walk") {
      setWalk((w) => (w.length ? [] : w));
      return;
    }
    const end = (e: KeyboardEvent) => {
      // On the plan itself Enter puts a point down first.
      const here = pointed.current && document.activeElement === sheet.current;
      if (e.key === "Enter" && !here) void drawWalk(walk);
      if (e.key === "Backspace") setWalk((w) => w.slice(0, -1));
      if ((e.key === "Enter" && !here) || e.key === "Backspace") e.stopImmediatePropagation();
    };
    window.addEventListener("keydown", end, true);
    return () => window.removeEventListener("keydown", end, true);
  }, [tool, walk]);

  const background = hold((from, e) => {
    const placed = (at: Point): Point => [snap(at[0], false), snap(at[1], false)];
    if (useView.getState().picking && e.button === 0)
      return {
        drop: ([x, z], moved) => {
          if (moved) return;
          const piece = (e.target as Element).closest<SVGElement>("[data-id]")?.dataset.id;
          if (piece) void focusOn({ kind: "piece_at", piece, x, z });
          else void focusOn({ kind: "point", x: snap(x, true), y: 0, z: snap(z, true), of: "the ground" });
        },
      };
    if (tool === "figure" && e.button === 0) return { drop: (at) => void standFigure(placed(at)) };
    if (tool === "walk" && e.button === 0)
      return { drop: (at, moved) => !moved && setWalk((w) => [...w, placed(at)]) };
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
      void focusOn({ kind: "point", x: snap(x, true), y: 0, z: snap(z, true), of: "the ground" });
    else if (tool === "figure") void standFigure(at);
    else if (isPiece(tool)) void drawing(tool, at).drop(at);
    else if (tool === "walk") {
      const before = walk[walk.length - 1];
      if (before && before[0] === x && before[1] === z) void drawWalk(walk);
      else setWalk([...walk, at]);
    }
  };
  const { cross, onKeyDown, drop: dropCross } = usePlanKeys(press);
  pointed.current = cross !== null;
  const layer = "absolute inset-0 h-full w-full will-change-transform";
  const follow = (e: React.PointerEvent) => {
    if (tool !== "walk") return;
    const box = e.currentTarget.getBoundingClientRect();
    setOver(toStage(space, e.clientX - box.left, e.clientY - box.top));
  };
  const shownCameras = scene?.cameras.filter((c) => !c.hidden) ?? [];
  const pieces = useMemo(
    () =>
      [...(scene?.pieces ?? [])].sort(
        (a, b) => a.base + a.height - (b.base + b.height) || b.width * b.depth - a.width * a.depth,
      ),
    [scene?.pieces],
  );
  const chosen = (k: string, id: string) => kind === k && ids.includes(id);
  const onePiece =
    kind === "piece" && ids.length === 1 ? scene?.pieces.find((p) => p.id === ids[0]) : undefined;
  const figure = kind === "figure" ? scene?.figures.find((f) => f.id === ids[0]) : undefined;
  const shape = scene?.pieces.find((p) => p.id === drawn);
  const start = tool === "walk" && figure ? walkStart(figure.id) : null;
  const trail = tool === "walk" ? [...(start ? [start] : []), ...walk, ...(over ? [over] : [])] : [];

  return (
    <section aria-label="Plan" className="relative flex h-full min-w-0 flex-col bg-sheet">
      <Tools />
      <div className="relative min-h-0 flex-1 border-t border-line">
        {seenFrom !== "above" && (
          <Suspense>
            <Elevation from={seenFrom} />
          </Suspense>
        )}
        {/* What stands still while the scene plays is a picture of its own, so that it is not painted again. */}
        <svg
          ref={sheet}
          role="application"
          aria-label="Ground plan of the stage"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a surface that is worked by keys
          tabIndex={0}
          onKeyDown={onKeyDown}
          className={`${layer} touch-none ${tool === "select" && !picking ? "" : "cursor-crosshair"}`}
          {...background}
          onPointerMove={follow}
          onPointerDownCapture={dropCross}
          onDoubleClick={() => tool === "walk" && void drawWalk(walk)}
          onContextMenu={(e) => e.preventDefault()}
          data-testid="plan"
        >
          <Grid />
          {pieces.map((p) => (
            <PieceMark key={p.id} piece={p} selected={chosen("piece", p.id)} hold={hold} />
          ))}
          {scene?.movers.map((m) => (
            <PathMark
              key={m.id}
              thing={m.id}
              colour="var(--faint)"
              strong={chosen("mover", m.id)}
              every={12}
            />
          ))}
          {scene?.figures.map((f) => (
            <PathMark
              key={f.id}
              thing={f.id}
              colour={f.look.coat}
              strong={chosen("figure", f.id)}
              every={12}
            />
          ))}
          {shownCameras.map((c) => (
            <CameraPathMark key={c.id} camera={c} selected={chosen("camera", c.id)} />
          ))}
        </svg>
        <svg
          role="presentation"
          className={`${layer} pointer-events-none`}
          onPointerMove={follow}
          onContextMenu={(e) => e.preventDefault()}
        >
          <g className={tool === "select" ? "pointer-events-auto" : "pointer-events-none"}>
            {scene?.movers.map((m) => (
              <MoverMark key={m.id} mover={m} selected={chosen("mover", m.id)} hold={hold} />
            ))}
            {shownCameras.map((c) => (
              <CameraMark key={c.id} camera={c} selected={chosen("camera", c.id)} hold={hold} />
            ))}
            {scene?.figures.map((f) => (
              <FigureMark key={f.id} figure={f} selected={chosen("figure", f.id)} hold={hold} />
            ))}
            <SunMark hold={hold} />
            <RoverMark hold={hold} />
            {figure && tool === "select" && <WalkPoints figure={figure} hold={hold} />}
            {onePiece && tool === "select" && <PieceHandles piece={onePiece} hold={hold} />}
            {shape && <Drawn shape={shape} />}
            {cross && <Cross at={toSheet(space, ...cross)} />}
            {trail.length > 0 && (
              <polyline
                points={trail.map(([x, z]) => toSheet(space, x, z).join()).join(" ")}
                fill="none"
                stroke="var(--slate)"
                strokeWidth={2}
                strokeDasharray="6 4"
                pointerEvents="none"
              />
            )}
          </g>
        </svg>
        <ScaleBar />
        <div className="absolute right-2 bottom-2">
          <Button tip="Show all that is staged" onClick={() => scene && fit(scene)}>
            <Maximize size={14} />
          </Button>
        </div>
        {tool !== "select" && (
          <p className="pointer-events-none absolute inset-x-2 top-2 rounded bg-slate px-2 py-1 text-center text-xs text-sheet">
            {TOOLS.find((t) => t.tool === tool)?.tip}. Esc puts the tool down.
          </p>
        )}
      </div>
    </section>
  );
}

/** Where the keyboard points. */
function Cross({ at: [x, y] }: { at: Point }) {
  return (
    <path
      d={`M${x - 12} ${y} h24 M${x} ${y - 12} v24`}
      stroke="var(--slate)"
      strokeWidth={2}
      pointerEvents="none"
      data-testid="cross"
    />
  );
}

/** Where a walk that is drawn now would begin: where the figure stands at this frame, or when it is free again. */
function walkStart(figure: string): Point | null {
  const row = rowOf(figure, useMoment.getState().stage);
  return row ? [row[0], row[2]] : null;
}

/** The size of a piece while it is drawn. */
function Drawn({ shape }: { shape: Piece }) {
  const space = useSpace();
  const [x, y] = toSheet(space, shape.x, shape.z);
  const [w, d] = [shape.width * space.scale, Math.max(shape.depth * space.scale, 2)];
  return (
    <g pointerEvents="none">
      <rect
        x={x - w / 2}
        y={y - d / 2}
        width={w}
        height={d}
        transform={`rotate(${-shape.heading} ${x} ${y})`}
        fill="var(--slate)"
        fillOpacity={0.18}
        stroke="var(--slate)"
        strokeWidth={1.5}
      />
      <text
        x={x}
        y={y - 6}
        textAnchor="middle"
        fontSize={12}
        fill="var(--slate)"
        stroke="var(--sheet)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {shape.width.toFixed(2)} × {shape.depth.toFixed(2)} m
      </text>
    </g>
  );
}
