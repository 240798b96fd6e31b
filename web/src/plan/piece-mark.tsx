import { memo, useMemo } from "react";
import type { Piece } from "../api/types";
import { headingOf, snap, toSheet, useSpace } from "../store/space";
import { select, selectAlso, useView } from "../store/view";
import { carry } from "../verbs/carry";
import { carriedOver, carrying } from "./carrying";
import type { TakeHold } from "./grab";

type Corner = [-1 | 1, -1 | 1];
const CORNERS: Corner[] = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
];

export const PieceMark = memo(function PieceMark({
  piece,
  selected,
  hold,
  outline,
}: {
  piece: Piece;
  selected: boolean;
  hold: TakeHold;
  /** Where it is cut, of what was brought in: lines in shares of its width and depth. */
  outline?: number[];
}) {
  const space = useSpace();
  const [px, py] = toSheet(space, piece.x, piece.z);
  const [w, d] = [piece.width * space.scale, piece.depth * space.scale];
  const thin = piece.kind === "wall" || piece.kind === "backdrop";
  const line = selected ? "var(--slate)" : "var(--ink)";
  const down = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select" || useView.getState().picking) return null;
    const what = carry("piece", piece.id);
    return carriedOver(what, from, (hand) => (hand.shift ? selectAlso("piece", piece.id) : what?.pick()));
  });
  return (
    <g
      transform={`translate(${px} ${py}) rotate(${-piece.heading})`}
      {...down}
      onDoubleClick={() => select("piece", [piece.id])}
      className="cursor-move"
      opacity={piece.hidden ? 0.35 : undefined}
      data-piece={piece.name}
      data-id={piece.id}
    >
      <title>{piece.group ? `${piece.name} (${piece.group})` : piece.name}</title>
      {piece.source ? (
        <Cut lines={outline ?? []} wide={w} deep={d} line={line} selected={selected} />
      ) : piece.kind === "post" ? (
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

/** What was brought in, as a ground plan shows it: where it is cut; else, under or over the cut, only the square that holds it. */
function Cut({
  lines,
  wide,
  deep,
  line,
  selected,
}: {
  lines: number[];
  wide: number;
  deep: number;
  line: string;
  selected: boolean;
}) {
  const path = useMemo(() => {
    const out: string[] = [];
    for (let i = 0; i + 3 < lines.length; i += 4) {
      const [ax, az, bx, bz] = [
        lines[i] * wide,
        lines[i + 1] * deep,
        lines[i + 2] * wide,
        lines[i + 3] * deep,
      ];
      out.push(`M${ax.toFixed(1)} ${az.toFixed(1)}L${bx.toFixed(1)} ${bz.toFixed(1)}`);
    }
    return out.join("");
  }, [lines, wide, deep]);
  if (path)
    return (
      <>
        <path d={path} stroke={line} strokeWidth={selected ? 2.2 : 1.3} fill="none" strokeLinecap="round" />
        {/* A line is met by a hand that is near it. */}
        <path d={path} stroke="transparent" strokeWidth={8} fill="none" />
        {selected && (
          <rect
            x={-wide / 2}
            y={-deep / 2}
            width={wide}
            height={deep}
            fill="none"
            stroke={line}
            strokeDasharray="3 3"
          />
        )}
      </>
    );
  return (
    <rect
      x={-wide / 2}
      y={-deep / 2}
      width={wide}
      height={deep}
      fill="none"
      pointerEvents="stroke"
      stroke={line}
      strokeWidth={selected ? 1.8 : 0.7}
      strokeDasharray={selected ? undefined : "2 4"}
      opacity={selected ? 1 : 0.55}
    />
  );
}

/** Corners to size a piece by, and a handle to turn it by. */
export function PieceHandles({ piece, hold }: { piece: Piece; hold: TakeHold }) {
  const space = useSpace();
  const [px, py] = toSheet(space, piece.x, piece.z);
  const [w, d] = [(piece.width * space.scale) / 2, (piece.depth * space.scale) / 2];
  const resize = (corner: Corner) =>
    hold(() =>
      carrying((at, free) => ({
        kind: "piece.size",
        piece: piece.id,
        corner,
        to: [snap(at[0], free), snap(at[1], free)],
      })),
    );
  const turn = hold(() =>
    carrying((at, free) => {
      const heading = headingOf(at[0] - piece.x, at[1] - piece.z);
      return { kind: "piece.set", piece: piece.id, heading: free ? heading : Math.round(heading) };
    }),
  );
  return (
    <g transform={`translate(${px} ${py}) rotate(${-piece.heading})`}>
      <line y1={-d} y2={-d - 22} stroke="var(--slate)" />
      <circle
        cy={-d - 22}
        r={6}
        fill="var(--sheet)"
        stroke="var(--slate)"
        strokeWidth={2}
        className="cursor-grab"
        {...turn}
      >
        <title>Drag to turn</title>
      </circle>
      {CORNERS.map((corner) => (
        <rect
          key={corner.join()}
          x={corner[0] * w - 5}
          y={corner[1] * d - 5}
          width={10}
          height={10}
          fill="var(--sheet)"
          stroke="var(--slate)"
          strokeWidth={2}
          className="cursor-nwse-resize"
          {...resize(corner)}
        >
          <title>Drag to size</title>
        </rect>
      ))}
    </g>
  );
}
