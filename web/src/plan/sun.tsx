import { useDocument } from "../store/document";
import { ahead, headingOf, useSpace } from "../store/space";
import { select, useView } from "../store/view";
import { carrying } from "./carrying";
import type { TakeHold } from "./grab";

/** The sun at the plan's edge, where it shines from: the ring turns it, its distance from the middle is its height. */
export function SunMark({ hold }: { hold: TakeHold }) {
  const { width, height, scale, cx, cz } = useSpace();
  const surround = useDocument((s) => s.shown?.surround);
  const quiet = useView((s) => s.kind !== null);
  if (!surround) return null;
  const reach = Math.max(Math.min(width, height) / 2 - 18, 30);
  const [dx, dy] = ahead(surround.sun_bearing);
  // Overhead it stands in the middle, on the horizon at the edge.
  const far = reach * (1 - surround.sun_height / 90);
  const [x, y] = [width / 2 + dx * far, height / 2 + dy * far];
  const turn = hold((_, e) =>
    e.button === 0
      ? carrying(
          ([px, pz]) => {
            const [ox, oz] = [(px - cx) * scale, (pz - cz) * scale];
            return {
              kind: "scene.set",
              sun_bearing: Math.round(headingOf(ox, oz)),
              sun_height: Math.round(Math.min(Math.max(90 * (1 - Math.hypot(ox, oz) / reach), 1), 90)),
            };
          },
          { click: () => select(null) },
        )
      : null,
  );
  return (
    <g opacity={quiet ? 0.35 : 1} className="cursor-grab" data-testid="sun" {...turn}>
      <title>The sun: drag to turn it, towards the middle to raise it</title>
      <circle cx={x} cy={y} r={7} fill="#f2c14e" stroke="var(--ink)" />
      {Array.from({ length: 8 }, (_, i) => {
        const a = (i * Math.PI) / 4;
        return (
          <line
            key={a}
            x1={x + 9 * Math.cos(a)}
            y1={y + 9 * Math.sin(a)}
            x2={x + 13 * Math.cos(a)}
            y2={y + 13 * Math.sin(a)}
            stroke="var(--ink)"
            strokeWidth={1.4}
          />
        );
      })}
    </g>
  );
}
