import { useDocument } from "../store/document";
import { type Point, snap, toSheet, useSpace } from "../store/space";
import { toggleSide } from "../store/view";
import { useActionLine } from "../ui/action-line";
import { newId } from "../verbs/new-id";
import { carrying } from "./carrying";
import type { TakeHold } from "./grab";

/** Beyond both ends it goes on for so many metres. */
const ON_M = 1.6;

/** The line of action, past both who it lies between; its ends are dragged to put it by hand. */
export function ActionLineMark({ hold }: { hold: TakeHold }) {
  const space = useSpace();
  const line = useActionLine();
  // While a hand tries another place it lies there.
  const tried = useDocument((s) => (s.overlay ? s.shown?.noting.lines.at(-1)?.points : null));
  if (!line?.ends) return null;
  const ends = (tried ?? line.ends) as [Point, Point];
  const [[ax, az], [bx, bz]] = ends;
  const long = Math.max(Math.hypot(bx - ax, bz - az), 1e-6);
  const [ux, uz] = [(bx - ax) / long, (bz - az) / long];
  const [x0, y0] = toSheet(space, ax - ON_M * ux, az - ON_M * uz);
  const [x1, y1] = toSheet(space, bx + ON_M * ux, bz + ON_M * uz);
  const put = (end: 0 | 1) =>
    hold((_, e) => {
      if (e.button !== 0) return null;
      const id = line.set?.id ?? newId("axis");
      return carrying(
        ([x, z], free) => {
          const points = ends.map((one) => [...one]) as [Point, Point];
          points[end] = [snap(x, free), snap(z, free)];
          return {
            kind: "action_line.set",
            id,
            of: line.set?.of ?? [],
            points,
            off: false,
            frames: line.set?.frames ?? null,
          };
        },
        { click: () => toggleSide("notes", true) },
      );
    });
  return (
    <g data-testid="action-line">
      <title>{`Line of action: ${line.said}. Drag an end to put it by hand`}</title>
      <line
        x1={x0}
        y1={y0}
        x2={x1}
        y2={y1}
        stroke="var(--brick)"
        strokeWidth={1.3}
        strokeDasharray="9 3 2 3"
        opacity={0.75}
      />
      {([0, 1] as const).map((end) => (
        <circle
          key={end}
          cx={end ? x1 : x0}
          cy={end ? y1 : y0}
          r={4.5}
          fill="var(--sheet)"
          stroke="var(--brick)"
          strokeWidth={1.4}
          className="cursor-grab"
          data-end={end}
          {...put(end)}
        />
      ))}
    </g>
  );
}
