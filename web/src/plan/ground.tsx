import type { Piece } from "../api/types";
import { type Point, toSheet, toStage, useSpace } from "../store/space";

/** Metres along the bottom, so that a distance can be judged. */
export function ScaleBar() {
  const scale = useSpace((s) => s.scale);
  const metres = [0.5, 1, 2, 5, 10, 20, 50].find((m) => m * scale > 56) ?? 100;
  return (
    <div className="pointer-events-none absolute bottom-2 left-3 text-xs text-ink">
      <div className="border-x border-b border-ink" style={{ width: metres * scale, height: 5 }} />
      {metres} m
    </div>
  );
}

/** Metres on the floor. */
export function Grid() {
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

/** Where the keyboard points. */
export function Cross({ at: [x, y] }: { at: Point }) {
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

/** The size of a piece while it is drawn. */
export function Drawn({ shape }: { shape: Piece }) {
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
