import { memo, useRef } from "react";
import type { Mover, Piece } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { partsOf } from "../store/parts";
import { moverColumns, rowOf, useVersion } from "../store/samples";
import { toSheet, useSpace } from "../store/space";
import { select, useView } from "../store/view";
import { carry } from "../verbs/carry";
import { pointOut } from "../verbs/rig";
import { carriedOver } from "./carrying";
import type { TakeHold } from "./grab";
import { useLive } from "./live";

const stage = () => useMoment.getState().stage;

export const MoverMark = memo(function MoverMark({
  mover,
  selected,
  hold,
}: {
  mover: Mover;
  selected: boolean;
  hold: TakeHold;
}) {
  const group = useRef<SVGGElement>(null);
  const scale = useSpace((s) => s.scale);
  useLive(() => {
    const row = rowOf(mover.id, stage());
    if (!row) return;
    const of = moverColumns();
    const [x, y] = toSheet(useSpace.getState(), row[of.x], row[of.z]);
    group.current?.setAttribute("transform", `translate(${x} ${y}) rotate(${-row[of.pan]})`);
  }, mover.id);
  const down = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select") return null;
    if (useView.getState().picking) return { drop: () => pointOut({ kind: "mover", mover: mover.id }) };
    return carriedOver(carry("mover", mover.id), from, () => select("mover", [mover.id]));
  });
  const line = { stroke: selected ? "var(--slate)" : "var(--ink)", strokeWidth: selected ? 2.2 : 1 };
  const parts = partsOf(
    useDocument((s) => s.shown),
    mover.id,
  );
  return (
    <g ref={group} {...down} className="cursor-move" data-mover={mover.name}>
      <title>{mover.name}</title>
      {mover.light && <Shine light={mover.light} mover={mover.id} scale={scale} selected={selected} />}
      <Outline mover={mover} scale={scale} line={line} />
      {parts.map((part) => (
        <Part key={part.id} part={part} scale={scale} line={line} />
      ))}
    </g>
  );
});

/** How far a lamp reaches, and how wide: a wedge of its cone, or a circle. */
function Shine({
  light,
  mover,
  scale,
  selected,
}: {
  light: NonNullable<Mover["light"]>;
  mover: string;
  scale: number;
  selected: boolean;
}) {
  // All of it for the selected one; of others as much as tells which way they shine.
  const far = (selected ? light.reach_m : Math.min(light.reach_m, 1.2)) * scale;
  const look = {
    fill: light.colour,
    fillOpacity: 0.16,
    stroke: "var(--ochre)",
    strokeWidth: 0.8,
    pointerEvents: "none",
  } as const;
  useVersion(mover);
  const row = rowOf(mover, stage());
  if (light.spread === "round" || !row) return <circle r={far} {...look} strokeDasharray="2 4" />;
  const half = (row[moverColumns().cone_deg] * Math.PI) / 360;
  const [x, y] = [Math.sin(half) * far, -Math.cos(half) * far];
  return <path d={`M0 0 L${-x} ${y} A${far} ${far} 0 0 1 ${x} ${y} Z`} {...look} />;
}

interface Drawn {
  scale: number;
  line: { stroke: string; strokeWidth: number };
}

/** A shape of its own from above; at least as large as can be taken hold of. */
function Outline({ mover, scale, line }: Drawn & { mover: Mover }) {
  const fill = { fill: mover.colour, ...line };
  if (mover.shape === "boat") {
    const l = 1.8 * scale;
    const b = 0.68 * scale;
    const hull = `M0 ${-l} Q${b * 1.3} ${-l * 0.2} ${b * 0.8} ${l} H${-b * 0.8} Q${-b * 1.3} ${-l * 0.2} 0 ${-l} Z`;
    return <path d={hull} {...fill} fillOpacity={0.55} />;
  }
  if (mover.shape === "heron") return <path d="M0 -13 L3 -4 Q6 3 0 9 Q-6 3 -3 -4 Z" {...fill} />;
  if (mover.shape === "oar" || mover.shape === "lamp")
    return <circle r={Math.max(0.06 * scale, 3.5)} {...fill} />;
  if (mover.shape === "cart") {
    const [w, l] = [0.5 * scale, 0.75 * scale];
    return (
      <>
        <path d={`M${-w * 0.7} ${-l} V${-l * 1.9} M${w * 0.7} ${-l} V${-l * 1.9}`} {...line} fill="none" />
        <rect x={-w} y={-l} width={2 * w} height={2 * l} {...fill} fillOpacity={0.55} />
      </>
    );
  }
  if (mover.shape === "pony")
    return (
      <g {...fill} fillOpacity={0.7}>
        <ellipse rx={0.24 * scale} ry={0.62 * scale} />
        <ellipse rx={0.11 * scale} ry={0.26 * scale} cy={-0.85 * scale} />
      </g>
    );
  return null;
}

/** A set piece that is part of it, from above. */
function Part({ part, scale, line }: Drawn & { part: Piece }) {
  const [w, d] = [part.width * scale, part.depth * scale].map((v) => Math.max(v, 5));
  const at = `translate(${part.x * scale} ${part.z * scale}) rotate(${-part.heading})`;
  return part.kind === "post" ? (
    <ellipse transform={at} rx={w / 2} ry={d / 2} fill={part.colour} {...line} />
  ) : (
    <rect
      transform={at}
      x={-w / 2}
      y={-d / 2}
      width={w}
      height={d}
      fill={part.colour}
      fillOpacity={0.7}
      {...line}
    />
  );
}
