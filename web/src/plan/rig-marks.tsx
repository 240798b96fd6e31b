import { useRef } from "react";
import type { Camera, Command, Layer, Spot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { lineHue } from "../store/hues";
import { useMoment } from "../store/moment";
import { cameraColumns, moverColumns, rowOf } from "../store/samples";
import { type Point, snap, toSheet, useSpace } from "../store/space";
import { cameraRow } from "../store/unsaved";
import { carrying } from "./carrying";
import type { TakeHold } from "./grab";
import { useLive } from "./live";

const stage = () => useMoment.getState().stage;

/** Where something stands on the floor at this moment, x and z in metres. */
function onFloor(spot: Spot): Point | null {
  if (spot.kind === "point") return [spot.x, spot.z];
  const { shown } = useDocument.getState();
  if (spot.kind === "piece") {
    const piece = itemOf(shown, "pieces", spot.piece);
    return piece ? [piece.x, piece.z] : null;
  }
  if (spot.kind === "figure") {
    const row = rowOf(spot.figure, stage());
    return row && [row[0], row[2]];
  }
  if (spot.kind === "mover") {
    const row = rowOf(spot.mover, stage());
    const of = moverColumns();
    return row && [row[of.x], row[of.z]];
  }
  if (spot.kind === "perch") {
    const row = rowOf(spot.perch, stage());
    return row && [row[0], row[2]];
  }
  const row = cameraRow(spot.camera, stage());
  const of = cameraColumns();
  return row && [row[of.x], row[of.z]];
}

const idOf = (spot: Spot): string =>
  spot.kind === "figure"
    ? spot.figure
    : spot.kind === "mover"
      ? spot.mover
      : spot.kind === "camera"
        ? spot.camera
        : spot.kind === "perch"
          ? spot.perch
          : "";

const acts = (layer: Layer, frame: number) =>
  !layer.off && (layer.first ?? frame) <= frame && frame <= (layer.last ?? frame);

type Rail = Extract<Layer, { kind: "rail" }>;

/** The rails of the selected camera: the line it runs along, and its points to be dragged. */
export function RailMarks({ camera, hold }: { camera: Camera; hold: TakeHold }) {
  const space = useSpace();
  const line = lineHue(camera.letter);
  const rails = camera.layers.filter((layer): layer is Rail => layer.kind === "rail");
  const grabbed = (rail: Rail, which: number) =>
    hold(() => {
      const command = (at: Point, free: boolean): Command => ({
        kind: "rig.set",
        camera: camera.id,
        layer: rail.id,
        fields: {
          points: rail.points.map((p, i) => (i === which ? [snap(at[0], free), p[1], snap(at[1], free)] : p)),
        },
      });
      return carrying(command);
    });
  return (
    <g data-rail={camera.letter}>
      {rails.flatMap((rail) => [
        <polyline
          key={rail.id}
          points={rail.points.map(([x, , z]) => toSheet(space, x, z).join()).join(" ")}
          fill="none"
          stroke={line}
          strokeWidth={1}
          strokeDasharray="1 5"
          pointerEvents="none"
        />,
        ...rail.points.map(([px, py, pz], which) => {
          const [x, y] = toSheet(space, px, pz);
          return (
            <rect
              key={`${rail.id}${which}`}
              x={x - 5}
              y={y - 5}
              width={10}
              height={10}
              fill="var(--sheet)"
              stroke={line}
              strokeWidth={2}
              className={camera.locked || rail.locked ? "cursor-not-allowed" : "cursor-move"}
              {...(camera.locked || rail.locked ? {} : grabbed(rail, which))}
            >
              <title>{`Point ${which + 1}, ${py.toFixed(2)} m high: drag to bend the rail`}</title>
            </rect>
          );
        }),
      ])}
    </g>
  );
}

/** Whom a camera watches, by a line; and, of a selected one, the circle its arm swings on. */
export function RigMarks({ camera, selected }: { camera: Camera; selected: boolean }) {
  const lines = useRef<SVGPathElement>(null);
  const ring = useRef<SVGCircleElement>(null);
  const spots = camera.layers.flatMap((l) => (l.kind === "aim" ? l.at : l.kind === "arm" ? l.round : []));
  useLive(
    () => {
      const row = cameraRow(camera.id, stage());
      const space = useSpace.getState();
      if (!row) return;
      const of = cameraColumns();
      const [x, y] = toSheet(space, row[of.x], row[of.z]);
      const now = camera.layers.filter((layer) => acts(layer, stage()));
      const aim = now.filter((layer) => layer.kind === "aim").pop();
      const watched = (aim?.kind === "aim" ? aim.at : []).map(onFloor);
      lines.current?.setAttribute(
        "d",
        watched.map((at) => (at ? `M${x} ${y} L${toSheet(space, ...at).join(" ")}` : "")).join(" "),
      );
      const arm = selected ? now.filter((layer) => layer.kind === "arm").pop() : undefined;
      const pivots = (arm?.kind === "arm" ? arm.round : []).map(onFloor).filter((p) => p !== null);
      if (pivots.length === 0) return ring.current?.setAttribute("r", "0");
      const px = pivots.reduce((sum, p) => sum + p[0], 0) / pivots.length;
      const pz = pivots.reduce((sum, p) => sum + p[1], 0) / pivots.length;
      const [cx, cy] = toSheet(space, px, pz);
      ring.current?.setAttribute("cx", String(cx));
      ring.current?.setAttribute("cy", String(cy));
      ring.current?.setAttribute("r", String(Math.hypot(x - cx, y - cy)));
    },
    camera.id,
    ...spots.map(idOf).filter(Boolean),
  );
  const line = lineHue(camera.letter);
  return (
    <g pointerEvents="none" data-watches={camera.letter}>
      <path ref={lines} stroke={line} strokeWidth={selected ? 1.6 : 1} strokeDasharray="2 4" fill="none" />
      <circle ref={ring} r={0} stroke={line} strokeWidth={1.4} strokeDasharray="6 4" fill="none" />
    </g>
  );
}
