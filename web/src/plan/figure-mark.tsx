import { memo, useMemo, useRef } from "react";
import { placesOf, sightOf } from "../api/samples";
import type { Act, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { rowOf, samplesOf, useVersion } from "../store/samples";
import { headingOf, type Point, snap, toSheet, useSpace } from "../store/space";
import { select, useView } from "../store/view";
import { carry, put } from "../verbs/carry";
import { pointOut } from "../verbs/rig";
import { placed } from "./badges";
import { carriedOver, carrying } from "./carrying";
import type { TakeHold } from "./grab";
import { useLive } from "./live";

const stage = () => useMoment.getState().stage;

/** Where something goes over the scene, as points on the stage for each frame. */
function usePath(thing: string): { points: Point[]; first: number } | null {
  const version = useVersion(thing);
  return useMemo(() => {
    void version;
    const samples = samplesOf(thing);
    if (!samples) return null;
    const points: Point[] = [];
    const places = placesOf(samples);
    for (let i = 0; i < places.length; i += 3) points.push([places[i], places[i + 2]]);
    return { points, first: samples.first };
  }, [thing, version]);
}

/** A path with a tick every few frames and a number on each whole second or two. */
export const PathMark = memo(function PathMark({
  thing,
  colour,
  strong,
  every = 6,
}: {
  thing: string;
  colour: string;
  strong: boolean;
  every?: number;
}) {
  const path = usePath(thing);
  const space = useSpace();
  if (!path) return null;
  const far = path.points.some(([x, z]) => Math.hypot(x - path.points[0][0], z - path.points[0][1]) > 0.02);
  if (!far) return null;
  const sheet = path.points.map(([x, z]) => toSheet(space, x, z));
  const ticks: { at: Point; frame: number }[] = [];
  let last: Point | null = null;
  for (let i = 0; i < sheet.length; i++) {
    const frame = path.first + i;
    if (frame % every) continue;
    const [x, y] = sheet[i];
    if (last && Math.hypot(x - last[0], y - last[1]) < 3) continue;
    last = [x, y];
    ticks.push({ at: [x, y], frame });
  }
  let labelled: Point | null = null;
  return (
    <g pointerEvents="none" opacity={strong ? 1 : 0.6}>
      <polyline
        points={sheet.map((p) => p.join()).join(" ")}
        fill="none"
        stroke={colour}
        strokeWidth={strong ? 1.6 : 1.1}
      />
      {ticks.map(({ at, frame }) => {
        const clear = !labelled || Math.hypot(at[0] - labelled[0], at[1] - labelled[1]) > 46;
        const label = strong && frame % (every * 4) === 0 && clear;
        if (label) labelled = at;
        return (
          <g key={frame}>
            <circle cx={at[0]} cy={at[1]} r={label ? 2.6 : 1.5} fill={colour} />
            {label && (
              <text x={at[0] + 6} y={at[1] + 4} fontSize={12} fill="var(--faint)">
                {frame}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

export const FigureMark = memo(function FigureMark({
  figure,
  selected,
  hold,
}: {
  figure: Figure;
  selected: boolean;
  hold: TakeHold;
}) {
  const group = useRef<SVGGElement>(null);
  const body = useRef<SVGGElement>(null);
  const look = useRef<SVGLineElement>(null);
  const label = useRef<SVGTextElement>(null);
  const scale = useSpace((s) => s.scale);
  useLive(() => {
    const row = rowOf(figure.id, stage());
    if (!row) return;
    const [x, y] = toSheet(useSpace.getState(), row[0], row[2]);
    group.current?.setAttribute("transform", `translate(${x} ${y})`);
    body.current?.setAttribute("transform", `rotate(${-row[3]})`);
    const [eyes, sight] = sightOf(row).map(([px, , pz]) => toSheet(useSpace.getState(), px, pz));
    look.current?.setAttribute("x1", String(eyes[0] - x));
    look.current?.setAttribute("y1", String(eyes[1] - y));
    look.current?.setAttribute("x2", String(sight[0] - x));
    look.current?.setAttribute("y2", String(sight[1] - y));
    const shown = useDocument.getState().shown;
    const name = shown && placed(shown, stage(), useSpace.getState()).names.get(figure.id);
    if (name) label.current?.setAttribute("transform", `translate(${name[0]} ${name[1] + 4})`);
  }, figure.id);
  const down = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select") return null;
    if (useView.getState().picking)
      return { drop: () => pointOut({ kind: "figure", figure: figure.id, joint: "eyes" }) };
    return carriedOver(carry("figure", figure.id), from, () => select("figure", [figure.id]));
  });
  const turn = hold(() => {
    const now = rowOf(figure.id, stage());
    const command = (at: Point) => {
      const wanted = headingOf(at[0] - (now?.[0] ?? 0), at[1] - (now?.[2] ?? 0));
      const was = now?.[3] ?? 0;
      // The way round that is turned less.
      return put(figure.id, { pan: Math.round(was + ((((wanted - was + 180) % 360) + 360) % 360) - 180) });
    };
    return carrying(command);
  });
  // A footprint: shoulders a quarter of the stature wide, the head over them.
  const half = Math.max(figure.stature * 0.13 * scale, 6);
  return (
    <g ref={group} data-figure={figure.name}>
      <line
        ref={look}
        stroke={figure.look.coat}
        strokeWidth={selected ? 1.6 : 1.1}
        strokeDasharray="5 3"
        pointerEvents="none"
      />
      <g ref={body}>
        <g {...down} className="cursor-move">
          {/* Somebody small on the plan is still easily pressed. */}
          <circle r={Math.max(half, 10)} fill="transparent" />
          <ellipse
            rx={half}
            ry={half * 0.55}
            fill={figure.look.coat}
            stroke={selected ? "var(--slate)" : "var(--ink)"}
            strokeWidth={selected ? 2.5 : 1}
          />
          <circle r={half * 0.46} fill={figure.look.trim} stroke="var(--ink)" strokeWidth={1} />
          <path
            d={`M${-half * 0.2} ${-half * 0.42} L0 ${-half * 0.85} L${half * 0.2} ${-half * 0.42} Z`}
            fill="var(--ink)"
          />
        </g>
        {selected && (
          <>
            <line y1={-half} y2={-half - 16} stroke="var(--slate)" />
            <circle
              cy={-half - 20}
              r={6}
              fill="var(--sheet)"
              stroke="var(--slate)"
              strokeWidth={2}
              className="cursor-grab"
              {...turn}
            >
              <title>Drag to turn</title>
            </circle>
          </>
        )}
      </g>
      <text
        ref={label}
        textAnchor="middle"
        fontSize={12}
        fontWeight={selected ? 600 : 500}
        fill="var(--ink)"
        stroke="var(--sheet)"
        strokeWidth={3}
        paintOrder="stroke"
        className="cursor-pointer"
        {...down}
      >
        {figure.name}
      </text>
    </g>
  );
});

type Way = Extract<Act, { kind: "walk" | "run" }>;

/** The points a selected figure's walks go through, to be dragged. */
export function WalkPoints({ figure, hold }: { figure: Figure; hold: TakeHold }) {
  const space = useSpace();
  const move = (act: Way, which: number) =>
    hold(() => {
      const command = (at: Point, free: boolean) => {
        const points = act.points.map(
          (p, i): Point => (i === which ? [snap(at[0], free), snap(at[1], free)] : p),
        );
        return { kind: "figure.act.set" as const, figure: figure.id, act: { ...act, points } };
      };
      return carrying(command);
    });
  return figure.acts.flatMap((act) =>
    act.kind === "walk" || act.kind === "run"
      ? act.points.map((p, which) => {
          const [x, y] = toSheet(space, p[0], p[1]);
          return (
            <rect
              key={`${act.id}-${which}`}
              x={x - 5}
              y={y - 5}
              width={10}
              height={10}
              transform={`rotate(45 ${x} ${y})`}
              fill="var(--sheet)"
              stroke={figure.look.coat}
              strokeWidth={2}
              className="cursor-move"
              {...move(act, which)}
            >
              <title>Drag to bend the walk</title>
            </rect>
          );
        })
      : [],
  );
}
