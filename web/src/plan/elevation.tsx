import { useLayoutEffect } from "react";
import { create } from "zustand";
import type { Camera, Scene } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { PARTS, poseInHand, useHandles } from "../store/handles";
import { hue, lineHue, onHue } from "../store/hues";
import { useMoment } from "../store/moment";
import { standingPieces } from "../store/parts";
import { cameraColumns, rowOf, useVersions } from "../store/samples";
import { type Point, snap, useSpace } from "../store/space";
import { cameraRow, poseOf } from "../store/unsaved";
import { lookThrough, select, useView } from "../store/view";
import { type Hand, useHold } from "../ui/hold";
import { posing } from "../verbs/poses";
import { placing } from "./carrying";

type From = "front" | "side";

/** What part of the upright sheet is seen: its middle in metres, pixels for a metre, and the floor's height on it. */
interface Upright {
  middle: number;
  scale: number;
  up: number;
}

const useUpright = create<Upright>(() => ({ middle: 0, scale: 40, up: 60 }));

const RADIANS = Math.PI / 180;
const LONG = 3;

/** Along the sheet: from the front across the stage, from the side along it; far is to the right. */
const alongOf = (from: From, x: number, z: number) => (from === "front" ? x : -z);

/** The floor stands this far above the sheet's lower edge, pixels: names have room under it. */
const UNDER = 44;

/** Show figures and cameras whole, as they stand at a frame; without any, the set. */
function fitUpright(scene: Scene, from: From, frame: number, width: number, height: number): void {
  const of = cameraColumns();
  const spots: Point[] = [];
  const { kind, ids, acts } = useView.getState();
  // Whoever is posed fills the sheet.
  const posed = scene.figures.find(
    (one) => kind === "figure" && ids.includes(one.id) && poseInHand(one, frame, acts),
  );
  for (const figure of posed ? [posed] : scene.figures) {
    const row = rowOf(figure.id, frame);
    if (row) spots.push([alongOf(from, row[0], row[2]), row[1] + figure.stature]);
  }
  for (const camera of posed ? [] : scene.cameras) {
    const row = camera.hidden ? null : cameraRow(camera.id, frame);
    if (row) spots.push([alongOf(from, row[of.x], row[of.z]), row[of.y]]);
  }
  if (spots.length === 0)
    for (const p of standingPieces(scene.pieces))
      spots.push([alongOf(from, p.x, p.z), Math.min(p.base + p.height, 4)]);
  if (spots.length === 0) spots.push([0, 2]);
  const along = spots.map((s) => s[0]);
  const [left, right] = [Math.min(...along) - 0.8, Math.max(...along) + 0.8];
  const high = Math.max(...spots.map((s) => s[1]), 2) + 0.4;
  const scale = Math.min(width / (right - left), (height - UNDER) / high, 160);
  useUpright.setState({ middle: (left + right) / 2, scale, up: UNDER });
}

/** The stage from the front or the side: heights and tilts are dragged here, as places are from above. */
export function Elevation({ from }: { from: From }) {
  const width = useSpace((s) => s.width);
  const height = useSpace((s) => s.height);
  const { middle, scale, up } = useUpright();
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  useVersions((s) => s.of);
  const selected = useView((s) => s.ids);
  useView((s) => s.through);
  const hold = useHold();
  useLayoutEffect(() => {
    const now = useDocument.getState().shown;
    const size = useSpace.getState();
    if (now) fitUpright(now, from, useMoment.getState().stage, size.width, size.height);
  }, [from]);
  if (!scene) return null;
  const at = (x: number, y: number, z: number): Point => [
    width / 2 + (alongOf(from, x, z) - middle) * scale,
    height - up - y * scale,
  ];
  const pan = hold(() => {
    const was = useUpright.getState();
    return {
      move: ({ dx, dy }) => useUpright.setState({ middle: was.middle - dx / was.scale, up: was.up - dy }),
      drop: (_, moved) => !moved && select(null),
    };
  });
  const wheel = (e: React.WheelEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const next = Math.min(Math.max(scale * Math.exp(-e.deltaY * 0.0015), 1.5), 400);
    // What is under the pointer stays there.
    const along = middle + (e.clientX - box.left - width / 2) / scale;
    const over = height - up - (e.clientY - box.top);
    useUpright.setState({
      scale: next,
      middle: along - (e.clientX - box.left - width / 2) / next,
      up: up + over - (over * next) / scale,
    });
  };
  const step = scale > 14 ? 1 : 5;
  const levels = Array.from({ length: Math.ceil((height - up) / scale / step) + 1 }, (_, i) => i * step);
  const [, ground] = at(0, 0, 0);
  return (
    <svg
      role="application"
      aria-label={`Elevation of the stage from the ${from}`}
      className="absolute inset-0 z-10 h-full w-full touch-none bg-sheet"
      data-testid="elevation"
      onWheel={wheel}
      {...pan}
    >
      {levels.map((y) => (
        <g key={y} pointerEvents="none">
          <line
            x1={0}
            x2={width}
            y1={ground - y * scale}
            y2={ground - y * scale}
            stroke="var(--line)"
            strokeWidth={y ? 0.7 : 1.6}
          />
          <text x={4} y={ground - y * scale - 3} fontSize={12} fill="var(--faint)">
            {y} m
          </text>
        </g>
      ))}
      {[...standingPieces(scene.pieces)]
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
              x={x - (wide * scale) / 2}
              y={y}
              width={Math.max(wide * scale, 1)}
              height={Math.max(piece.height * scale, 1)}
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
      {scene.figures.map((figure, i) => {
        const row = rowOf(figure.id, stage);
        if (!row) return null;
        const [x, y] = at(row[0], row[1], row[2]);
        const tall = figure.stature * scale;
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
            <text x={x} y={y + 14 + (i % 2) * 14} textAnchor="middle" fontSize={12} fill="var(--ink)">
              {figure.name}
            </text>
          </g>
        );
      })}
      {[...scene.cameras]
        .filter((c) => !c.hidden)
        // Whose picture is looked at, and whose card is open, are reached before the others.
        .sort((a, b) => rank(a.id) - rank(b.id))
        .map((camera) => (
          <CameraUpright key={camera.id} camera={camera} from={from} at={at} scale={scale} hold={hold} />
        ))}
      <PoseUpright from={from} at={at} scale={scale} hold={hold} />
    </svg>
  );
}

/** The handles of a pose, dragged along the sheet and up. */
function PoseUpright({
  from,
  at,
  scale,
  hold,
}: {
  from: From;
  at: (x: number, y: number, z: number) => Point;
  scale: number;
  hold: ReturnType<typeof useHold>;
}) {
  const { figure: id, places } = useHandles();
  const acts = useView((s) => s.acts);
  const chosen = useView((s) => s.kind === "figure" && s.ids.includes(id ?? ""));
  const stage = useMoment((s) => s.stage);
  const figure = useDocument((s) => itemOf(s.shown, "figures", id));
  if (!figure || !chosen || !poseInHand(figure, stage, acts)) return null;
  return PARTS.map(([part]) => {
    const place = places[part];
    if (!place) return null;
    const [x, y] = at(...place);
    const grip = hold((e) => {
      if (e.button !== 0) return null;
      const what = posing(figure, part);
      const by = ({ dx, dy, alt }: Hand): [number, number, number] => {
        const much = (alt ? 0.1 : 1) / scale;
        return from === "front" ? [dx * much, -dy * much, 0] : [0, -dy * much, -dx * much];
      };
      return {
        move: (hand) => what.show(by(hand)),
        drop: (hand, moved) => moved && void what.keep(by(hand)),
        cancel: what.drop,
      };
    });
    return (
      <circle
        key={part}
        data-part={part}
        cx={x}
        cy={y}
        r={7}
        fill="var(--ochre)"
        stroke="var(--sheet)"
        strokeWidth={1.5}
        className="cursor-move"
        {...grip}
      >
        <title>{`Drag ${figure.name}'s ${part.replace("_", " ")}; Alt: finer`}</title>
      </circle>
    );
  });
}

function rank(camera: string): number {
  const { ids, through } = useView.getState();
  const seen = typeof through === "object" && through.camera === camera;
  return (ids.includes(camera) ? 2 : 0) + (seen ? 1 : 0);
}

function CameraUpright({
  camera,
  from,
  at,
  scale,
  hold,
}: {
  camera: Camera;
  from: From;
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
