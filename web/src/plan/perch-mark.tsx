import { memo, useRef } from "react";
import type { Perch } from "../api/types";
import { useMoment } from "../store/moment";
import { rowOf } from "../store/samples";
import { toSheet, useSpace } from "../store/space";
import { select, useView } from "../store/view";
import { carry } from "../verbs/carry";
import { pointOut } from "../verbs/rig";
import { carriedOver } from "./carrying";
import type { TakeHold } from "./grab";
import { useLive } from "./live";

/** A perch on the plan: a beak that points where it looks. */
export const PerchMark = memo(function PerchMark({
  perch,
  selected,
  hold,
}: {
  perch: Perch;
  selected: boolean;
  hold: TakeHold;
}) {
  const group = useRef<SVGGElement>(null);
  const body = useRef<SVGGElement>(null);
  useLive(() => {
    const row = rowOf(perch.id, useMoment.getState().stage);
    if (!row) return;
    const [x, y] = toSheet(useSpace.getState(), row[0], row[2]);
    group.current?.setAttribute("transform", `translate(${x} ${y})`);
    body.current?.setAttribute("transform", `rotate(${-row[3]})`);
  }, perch.id);
  const down = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select") return null;
    if (useView.getState().picking) return { drop: () => pointOut({ kind: "perch", perch: perch.id }) };
    return carriedOver(carry("perch", perch.id), from, () => select("perch", [perch.id]));
  });
  const line = { stroke: selected ? "var(--slate)" : "var(--ink)", strokeWidth: selected ? 2.2 : 1.1 };
  return (
    <g ref={group} {...down} className="cursor-move" data-perch={perch.name}>
      <title>{`Perch ${perch.name}${perch.rides ? ", which rides" : ""}`}</title>
      <circle r={9} fill="transparent" />
      <g ref={body}>
        <path
          d="M-4.5 3 Q-4.5 -3 0 -11 Q4.5 -3 4.5 3 A4.5 4.5 0 0 1 -4.5 3 Z"
          fill="var(--sheet)"
          {...line}
        />
        {perch.rides && <circle cy={2.5} r={1.8} fill="var(--ink)" />}
      </g>
      {selected && (
        <text
          y={20}
          textAnchor="middle"
          fontSize={12}
          fontWeight={600}
          fill="var(--ink)"
          stroke="var(--sheet)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {perch.name}
        </text>
      )}
    </g>
  );
});
