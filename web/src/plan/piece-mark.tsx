import { memo } from "react";
import type { Piece } from "../api/types";
import { useDocument } from "../store/document";
import { headingOf, type Point, snap, toSheet, useSpace } from "../store/space";
import { select, selectAlso, useView } from "../store/view";
import { carrying } from "./carrying";
import type { TakeHold } from "./grab";

/** A piece's own across and along, metres, to the stage. */
function placeOn(piece: Piece, across: number, along: number): Point {
  const a = (piece.heading * Math.PI) / 180;
  return [
    piece.x + across * Math.cos(a) + along * Math.sin(a),
    piece.z - across * Math.sin(a) + along * Math.cos(a),
  ];
}

/** A place on the stage in a piece's own across and along, metres. */
export function intoPiece(piece: Piece, [x, z]: Point): Point {
  const a = (piece.heading * Math.PI) / 180;
  const [dx, dz] = [x - piece.x, z - piece.z];
  return [dx * Math.cos(a) - dz * Math.sin(a), dx * Math.sin(a) + dz * Math.cos(a)];
}

/** Which pieces a hand on this one takes along: its group, unless it is selected alone. */
function together(piece: Piece): string[] {
  const { kind, ids } = useView.getState();
  if (kind === "piece" && ids.includes(piece.id)) return ids;
  const pieces = useDocument.getState().scene?.pieces ?? [];
  return piece.group ? pieces.filter((p) => p.group === piece.group).map((p) => p.id) : [piece.id];
}

export const PieceMark = memo(function PieceMark({
  piece,
  selected,
  hold,
}: {
  piece: Piece;
  selected: boolean;
  hold: TakeHold;
}) {
  const space = useSpace();
  const [px, py] = toSheet(space, piece.x, piece.z);
  const [w, d] = [piece.width * space.scale, piece.depth * space.scale];
  const thin = piece.kind === "wall" || piece.kind === "backdrop";
  const line = selected ? "var(--slate)" : "var(--ink)";
  const down = (e: React.PointerEvent) => {
    if (e.button !== 0 || useView.getState().tool !== "select" || useView.getState().picking) return;
    hold(e, (from) => {
      const ids = together(piece);
      const command = (at: Point, free: boolean) => ({
        kind: "things.move" as const,
        ids,
        dx: snap(at[0] - from[0], free),
        dz: snap(at[1] - from[1], free),
        dy: 0,
        turn: 0,
      });
      return carrying(command, {
        pick: () => select("piece", ids),
        click: (ev) => (ev.shiftKey ? selectAlso("piece", piece.id) : select("piece", ids)),
      });
    });
  };
  return (
    <g
      transform={`translate(${px} ${py}) rotate(${-piece.heading})`}
      onPointerDown={down}
      onDoubleClick={() => select("piece", [piece.id])}
      className="cursor-move"
      data-piece={piece.name}
    >
      <title>{piece.group ? `${piece.name} (${piece.group})` : piece.name}</title>
      {piece.kind === "post" ? (
        <ellipse
          rx={Math.max(w / 2, 2.5)}
          ry={Math.max(d / 2, 2.5)}
          fill={piece.colour}
          stroke={line}
          strokeWidth={selected ? 2.2 : 1}
        />
      ) : (
        <rect
          x={-w / 2}
          y={-Math.max(d, 2) / 2}
          width={w}
          height={Math.max(d, 2)}
          fill={thin ? (selected ? "var(--slate)" : "var(--ink)") : piece.colour}
          fillOpacity={thin ? 0.75 : piece.kind === "platform" || piece.kind === "ramp" ? 0.28 : 0.5}
          stroke={line}
          strokeWidth={selected ? 2.2 : thin ? 0.5 : 1}
        />
      )}
      {piece.kind === "ramp" && (
        <path
          d={`M0 ${d * 0.32} V${-d * 0.28} M${-Math.min(w, d) * 0.14} ${-d * 0.08} L0 ${-d * 0.3} L${Math.min(w, d) * 0.14} ${-d * 0.08}`}
          stroke={line}
          strokeWidth={1}
          fill="none"
        />
      )}
    </g>
  );
});

/** Corners to size a piece by, and a handle to turn it by. */
export function PieceHandles({ piece, hold }: { piece: Piece; hold: TakeHold }) {
  const space = useSpace();
  const corners: Point[] = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ];
  const resize = (sx: number, sz: number) => (e: React.PointerEvent) =>
    hold(e, () => {
      const fixed: Point = [(-sx * piece.width) / 2, (-sz * piece.depth) / 2];
      const command = (at: Point, free: boolean) => {
        const [across, along] = intoPiece(piece, at);
        const width = Math.max(snap(Math.abs(across - fixed[0]), free), 0.05);
        const depth = Math.max(snap(Math.abs(along - fixed[1]), free), 0.05);
        const [x, z] = placeOn(piece, fixed[0] + (sx * width) / 2, fixed[1] + (sz * depth) / 2);
        return { kind: "piece.set" as const, piece: piece.id, width, depth, x, z };
      };
      return carrying(command);
    });
  const turn = (e: React.PointerEvent) =>
    hold(e, () => {
      const command = (at: Point, free: boolean) => {
        const heading = headingOf(at[0] - piece.x, at[1] - piece.z);
        return { kind: "piece.set" as const, piece: piece.id, heading: free ? heading : Math.round(heading) };
      };
      return carrying(command);
    });
  const out = piece.depth / 2 + 22 / space.scale;
  const [tx, ty] = toSheet(space, ...placeOn(piece, 0, -out));
  const [mx, my] = toSheet(space, ...placeOn(piece, 0, -piece.depth / 2));
  return (
    <g>
      <line x1={mx} y1={my} x2={tx} y2={ty} stroke="var(--slate)" />
      <circle
        cx={tx}
        cy={ty}
        r={6}
        fill="var(--sheet)"
        stroke="var(--slate)"
        strokeWidth={2}
        className="cursor-grab"
        onPointerDown={turn}
      >
        <title>Drag to turn</title>
      </circle>
      {corners.map(([sx, sz]) => {
        const [x, y] = toSheet(space, ...placeOn(piece, (sx * piece.width) / 2, (sz * piece.depth) / 2));
        return (
          <rect
            key={`${sx}${sz}`}
            x={x - 5}
            y={y - 5}
            width={10}
            height={10}
            fill="var(--sheet)"
            stroke="var(--slate)"
            strokeWidth={2}
            className="cursor-nwse-resize"
            onPointerDown={resize(sx, sz)}
          >
            <title>Drag to size</title>
          </rect>
        );
      })}
    </g>
  );
}
