import { useRef } from "react";
import { create } from "zustand";
import type { Camera } from "../api/types";
import { useDocument } from "../store/document";
import { hue, lineHue, onHue } from "../store/hues";
import { cameraRow, poseOf } from "../store/loose";
import { useMoment } from "../store/moment";
import { cameraColumns, rowOf, useVersions } from "../store/samples";
import { type Point, snap, useSpace } from "../store/space";
import { lookThrough, select, useView } from "../store/view";
import { type Hand, useHold } from "../ui/hold";
import { placing } from "./carrying";

/** Pixels that the floor lies above the sheet's lower edge. */
const useFloor = create<{ up: number }>(() => ({ up: 90 }));

const RADIANS = Math.PI / 180;
const LONG = 3;

/** Along the sheet: from the front across the stage, from the side along it; far is to the right. */
const alongOf = (from: "front" | "side", x: number, z: number) => (from === "front" ? x : -z);

/** The stage from the front or the side: heights and tilts are dragged here, as places are from above. */
export function Elevation({ from }: { from: "front" | "side" }) {
  const space = useSpace();
  const { up } = useFloor();
  const sheet = useRef<SVGSVGElement>(null);
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  useVersions((s) => s.of);
  const selected = useView((s) => s.ids);
  const hold = useHold();
  if (!scene) return null;
  const middle = from === "front" ? space.cx : -space.cz;
  const at = (x: number, y: number, z: number): Point => [
    space.width / 2 + (alongOf(from, x, z) - middle) * space.scale,
    space.height - up - y * space.scale,
  ];
  const pan = hold(() => {
    const was = useSpace.getState();
    const floor = useFloor.getState().up;
    return {
      move: ({ dx, dy }) => {
        const by = dx / was.scale;
        useSpace.setState(from === "front" ? { cx: was.cx - by } : { cz: was.cz + by });
        useFloor.setState({ up: floor - dy });
      },
      drop: (_, moved) => !moved && select(null),
    };
  });
  const step = space.scale > 14 ? 1 : 5;
  const levels = Array.from({ length: Math.ceil(space.height / space.scale / step) + 1 }, (_, i) => i * step);
  const [, ground] = at(0, 0, 0);
  return (
    <svg
      ref={sheet}
      role="application"
      aria-label={`Elevation of the stage from the ${from}`}
      className="absolute inset-0 z-10 h-full w-full touch-none bg-sheet"
      data-testid="elevation"
      onWheel={(e) => {
        const scale = Math.min(Math.max(space.scale * Math.exp(-e.deltaY * 0.0015), 1.5), 400);
        useSpace.setState({ scale });
      }}
      {...pan}
    >
      {levels.map((y) => (
        <g key={y} pointerEvents="none">
          <line
            x1={0}
            x2={space.width}
            y1={ground - y * space.scale}
            y2={ground - y * space.scale}
            stroke="var(--line)"
            strokeWidth={y ? 0.7 : 1.6}
          />
          <text x={4} y={ground - y * space.scale - 3} fontSize={12} fill="var(--faint)">
            {y} m
          </text>
        </g>
      ))}
      {[...scene.pieces]
        .sort((a, b) => (from === "front" ? a.z - b.z : b.x - a.x))
        .map((piece) => {
          const turn = piece.heading * RADIANS;
          const [c, s] = [Math.abs(Math.cos(turn)), Math.abs(Math.sin(turn))];
          const wide =
            from === "front" ? piece.width * c + piece.depth * s : piece.width * s + piece.depth * c;
          const [x, y] = at(piece.x, piece.base + piece.height, piece.z);
          return (
            <rect
              key={piece.id}
              x={x - (wide * space.scale) / 2}
              y={y}
              width={Math.max(wide * space.scale, 1)}
              height={Math.max(piece.height * space.scale, 1)}
              fill={piece.colour}
              fillOpacity={piece.kind === "backdrop" || piece.kind === "wall" ? 0.18 : 0.5}
              stroke={selected.includes(piece.id) ? "var(--slate)" : "var(--ink)"}
              strokeWidth={selected.includes(piece.id) ? 2 : 0.6}
              onClick={() => select("piece", [piece.id])}
            >
              <title>{piece.name}</title>
            </rect>
          );
        })}
      {scene.figures.map((figure) => {
        const row = rowOf(figure.id, stage);
        if (!row) return null;
        const [x, y] = at(row[0], row[1], row[2]);
        const tall = figure.stature * space.scale;
        return (
          <g key={figure.id} onClick={() => select("figure", [figure.id])}>
            <rect
              x={x - tall * 0.12}
              y={y - tall * 0.86}
              width={tall * 0.24}
              height={tall * 0.86}
              rx={tall * 0.06}
              fill={figure.look.coat}
              stroke="var(--ink)"
            />
            <circle cx={x} cy={y - tall * 0.93} r={tall * 0.07} fill={figure.look.trim} stroke="var(--ink)" />
            <text x={x} y={y + 14} textAnchor="middle" fontSize={12} fill="var(--ink)">
              {figure.name}
            </text>
          </g>
        );
      })}
      {scene.cameras
        .filter((c) => !c.hidden)
        .map((camera) => (
          <CameraUpright
            key={camera.id}
            camera={camera}
            from={from}
            at={at}
            scale={space.scale}
            hold={hold}
          />
        ))}
    </svg>
  );
}

function CameraUpright({
  camera,
  from,
  at,
  scale,
  hold,
}: {
  camera: Camera;
  from: "front" | "side";
  at: (x: number, y: number, z: number) => Point;
  scale: number;
  hold: ReturnType<typeof useHold>;
}) {
  const stage = useMoment((s) => s.stage);
  const chosen = useView((s) => s.kind === "camera" && s.ids.includes(camera.id));
  const row = cameraRow(camera.id, stage);
  if (!row) return null;
  const of = cameraColumns();
  const [x, y] = at(row[of.x], row[of.y], row[of.z]);
  const pan = row[of.pan] * RADIANS;
  /** How much of a level step ahead goes along the sheet. */
  const share = alongOf(from, -Math.sin(pan), -Math.cos(pan));
  const end = (tilt: number): Point => [
    x + Math.cos(tilt * RADIANS) * share * LONG * scale,
    y - Math.sin(tilt * RADIANS) * LONG * scale,
  ];
  const half = row[of.vertical_deg] / 2;
  const tilt = row[of.tilt];
  const [ax, ay] = end(tilt);
  const ends = [end(tilt + half), end(tilt - half)];
  const pick = () => select("camera", [camera.id]);
  const asHeld = (grab: ReturnType<typeof placing>) => ({
    move: (hand: Hand) => grab.move?.([hand.dx / scale, -hand.dy / scale], hand),
    drop: (hand: Hand, moved: boolean) => grab.drop?.([hand.dx / scale, -hand.dy / scale], moved, hand),
  });
  const body = hold((e) => {
    const start = poseOf(camera.id, stage);
    if (e.button !== 0 || !start) return null;
    const pose = ([along, high]: Point, free: boolean) => ({
      ...(from === "front" ? { x: snap(start.x + along, free) } : { z: snap(start.z - along, free) }),
      y: Math.max(snap(start.y + high, free), 0.05),
    });
    return asHeld(placing(camera.id, pose, { pick, click: pick }));
  });
  const turn = hold((e) => {
    const start = poseOf(camera.id, stage);
    // Seen from ahead or behind, a tilt does not show which way it goes.
    if (e.button !== 0 || !start || Math.abs(share) < 0.1) return null;
    const pose = ([along, high]: Point, free: boolean) => {
      const [dx, dy] = [(ax - x) / scale + along, (y - ay) / scale + high];
      const angle = Math.atan2(dy * Math.abs(share), Math.max(dx * Math.sign(share), 0.01)) / RADIANS;
      const step = free ? 100 : 2;
      return { tilt: Math.min(Math.max(Math.round(angle * step) / step, -90), 90) };
    };
    return asHeld(placing(camera.id, pose, { pick, click: pick }));
  });
  const colour = hue(camera.letter);
  const line = lineHue(camera.letter);
  return (
    <g data-upright={camera.letter}>
      <path
        d={`M${x} ${y} L${ends[0]} L${ends[1]} Z`}
        fill={colour}
        fillOpacity={chosen ? 0.16 : 0.08}
        pointerEvents="none"
      />
      <line x1={x} y1={y} x2={ax} y2={ay} stroke={line} strokeWidth={chosen ? 2 : 1} pointerEvents="none" />
      <circle
        cx={ax}
        cy={ay}
        r={7}
        fill="var(--sheet)"
        stroke={line}
        strokeWidth={2}
        className="cursor-grab"
        {...turn}
      >
        <title>Drag to tilt camera {camera.letter}</title>
      </circle>
      <g
        transform={`translate(${x} ${y})`}
        className="cursor-move"
        onDoubleClick={() => lookThrough({ camera: camera.id })}
        {...body}
      >
        <title>
          {camera.letter} {camera.name}: drag to move and raise
        </title>
        <rect
          x={-10}
          y={-10}
          width={20}
          height={20}
          rx={3}
          fill={colour}
          stroke={chosen ? "var(--slate)" : "var(--sheet)"}
          strokeWidth={chosen ? 3 : 1.5}
        />
        <text textAnchor="middle" y={4.6} fontSize={13} fontWeight={600} fill={onHue(camera.letter)}>
          {camera.letter}
        </text>
      </g>
    </g>
  );
}
