import { Box, Lock, Maximize, PersonStanding, Video } from "lucide-react";
import { lazy, Suspense, useMemo, useRef } from "react";
import { useDocument } from "../store/document";
import { standingPieces } from "../store/parts";
import { fit, toSheet, useSpace } from "../store/space";
import { canPick, type Kind, useView } from "../store/view";
import { Button } from "../ui/button";
import { offerCorner } from "../ui/corner";
import { fetched } from "../ui/fetched";
import { ActionLineMark } from "./action-line";
import { CameraMark, CameraPathMark, RoverMark } from "./camera-mark";
import { useDrawing } from "./drawing";
import { FigureMark, PathMark, WalkPoints } from "./figure-mark";
import { Cross, Drawn, Grid, ScaleBar } from "./ground";
import { usePlanKeys } from "./keyboard";
import { MoverMark } from "./mover-mark";
import { CutHeight, useOutlines } from "./outlines";
import { PerchMark } from "./perch-mark";
import { PieceHandles, PieceMark } from "./piece-mark";
import { RailMarks } from "./rig-marks";
import { useSheet } from "./sheet";
import { SunMark } from "./sun";
import { ToolHint, Tools } from "./tools";

const Elevation = lazy(() => fetched(() => import("./elevation")).then((m) => ({ default: m.Elevation })));

/** Where everything stands, from above, like a set designer's ground plan. Dragging here stages for real. */
export function Plan() {
  const sheet = useRef<SVGSVGElement>(null);
  const scene = useDocument((s) => s.shown);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const tool = useView((s) => s.tool);
  const picking = useView((s) => s.picking);
  const seenFrom = useView((s) => s.seenFrom);
  const space = useSpace();
  useSheet(sheet);
  const { hold, take, press, pointed, follow, end, shape, trail, points } = useDrawing(sheet);
  const { cross, onKeyDown, drop: dropCross } = usePlanKeys(press);
  pointed.current = cross !== null;
  const layer = "absolute inset-0 h-full w-full will-change-transform";
  const shownCameras = scene?.cameras.filter((c) => !c.hidden) ?? [];
  const pieces = useMemo(
    () =>
      [...standingPieces(scene?.pieces)].sort(
        (a, b) => a.base + a.height - (b.base + b.height) || b.width * b.depth - a.width * a.depth,
      ),
    [scene?.pieces],
  );
  const outlines = useOutlines();
  const chosen = (k: string, id: string) => kind === k && ids.includes(id);
  const pickable = useView((s) => s.pickable);
  // Pointing at something is not picking it.
  const past = (k: Kind, locked = false) =>
    picking || canPick(k, pickable, locked) ? undefined : "pointer-events-none opacity-60";
  const onePiece = kind === "piece" && ids.length === 1 ? pieces.find((p) => p.id === ids[0]) : undefined;
  const camera = kind === "camera" ? shownCameras.find((c) => c.id === ids[0]) : undefined;
  const figure = kind === "figure" ? scene?.figures.find((f) => f.id === ids[0]) : undefined;

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
          data-region-start
          aria-label="Ground plan of the stage"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a surface that is worked by keys
          tabIndex={0}
          onKeyDown={onKeyDown}
          className={`${layer} touch-none ${tool === "select" && !picking ? "" : "cursor-crosshair"}`}
          {...take}
          onPointerMove={follow}
          onPointerDownCapture={dropCross}
          onDoubleClick={end}
          onContextMenu={(e) => e.preventDefault()}
          data-testid="plan"
        >
          <Grid />
          <g className={past("piece")}>
            {pieces.map((p) => (
              <g key={p.id} className={past("piece", p.locked)}>
                <PieceMark piece={p} selected={chosen("piece", p.id)} hold={hold} outline={outlines[p.id]} />
              </g>
            ))}
          </g>
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
            <g className={past("mover")}>
              {scene?.movers.map((m) => (
                <MoverMark key={m.id} mover={m} selected={chosen("mover", m.id)} hold={hold} />
              ))}
            </g>
            {camera && tool === "select" && <RailMarks camera={camera} hold={hold} />}
            <g className={past("perch")}>
              {scene?.perches.map((p) => (
                <g key={p.id} className={past("perch", p.locked)}>
                  <PerchMark perch={p} selected={chosen("perch", p.id)} hold={hold} />
                </g>
              ))}
            </g>
            <g className={past("camera")}>
              {shownCameras.map((c) => (
                <g key={c.id} className={past("camera", c.locked)}>
                  <CameraMark camera={c} selected={chosen("camera", c.id)} hold={hold} />
                </g>
              ))}
            </g>
            <g className={past("figure")}>
              {scene?.figures.map((f) => (
                <FigureMark key={f.id} figure={f} selected={chosen("figure", f.id)} hold={hold} />
              ))}
            </g>
            <ActionLineMark hold={hold} />
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
        {/* An elevation has its ground where the plan has its lower edge. */}
        <div
          ref={offerCorner}
          className={`absolute left-2 h-0 w-0 ${seenFrom === "above" ? "bottom-9" : "top-2"}`}
        />
        <div className="absolute right-2 bottom-11">
          <CutHeight />
        </div>
        <div className="absolute right-2 bottom-2 flex items-center gap-1">
          <Picks />
          <Button tip="Show all that is staged" onClick={() => scene && fit(scene)}>
            <Maximize size={14} />
          </Button>
        </div>
        <ToolHint points={points} onDone={end} />
      </div>
    </section>
  );
}

const PICKS = [
  { part: "cameras", says: "cameras and perches", Icon: Video },
  { part: "people", says: "people and movers", Icon: PersonStanding },
  { part: "set", says: "set pieces", Icon: Box },
  { part: "locked", says: "what is locked", Icon: Lock },
] as const;

/** Three switches for what a press picks, on the plan and in the rover's picture, and one for locked things. */
function Picks() {
  const pickable = useView((s) => s.pickable);
  return (
    <span className="flex items-center gap-0.5" role="group" aria-label="What a press picks">
      {PICKS.map(({ part, says, Icon }) => (
        <button
          type="button"
          key={part}
          role="switch"
          aria-checked={pickable[part]}
          aria-label={`Pick ${says}`}
          title={`${pickable[part] ? "A press picks" : "A press looks past"} ${says}`}
          className={`rounded-[3px] border p-1 ${part === "locked" ? "ml-1" : ""} ${pickable[part] ? "border-line bg-sheet" : "border-slate bg-slate-wash text-faint line-through"}`}
          onClick={() => useView.setState({ pickable: { ...pickable, [part]: !pickable[part] } })}
        >
          <Icon size={14} opacity={pickable[part] ? 1 : 0.45} />
        </button>
      ))}
    </span>
  );
}
