import { useQuery } from "@tanstack/react-query";
import { frameLines } from "../api/queries";
import { useDocument } from "../store/document";
import { type Looks, useView } from "../store/view";

const GROUPS = ["safe", "thirds", "centre", "diagonals", "golden", "protect"] as const;

/** The lines an artist asked for, laid over the delivery frame as the server has them. */
export function FrameLines() {
  const looks = useView((s) => s.looks);
  const aspect = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const any = GROUPS.some((g) => looks[g]);
  const { data } = useQuery({ ...frameLines(aspect, looks.standard, looks.aspect), enabled: any });
  if (!any || !data) return null;
  const shown = data.filter((line) => looks[line.group as keyof Looks]);
  const boxes = shown.filter((line) => line.group === "protect");
  // Several lie over each other: only one can dim what it leaves out.
  const box = boxes.length === 1 ? boxes[0].box : null;
  return (
    <>
      <svg
        viewBox="-1 -1 2 2"
        preserveAspectRatio="none"
        className="absolute inset-0 h-full w-full"
        role="presentation"
        data-testid="lines"
      >
        {box && (
          <path
            d={`M-1 -1H1V1H-1Z M${-box[0]} ${-box[1]}V${box[1]}H${box[0]}V${-box[1]}Z`}
            fill="#000"
            fillOpacity={0.28}
            fillRule="evenodd"
          />
        )}
        {shown.flatMap((line) =>
          line.segments.flatMap(([x0, y0, x1, y1]) =>
            [
              { stroke: "#000", strokeOpacity: 0.4, strokeWidth: 3 },
              { stroke: "#fff", strokeOpacity: 0.85, strokeWidth: 1 },
            ].map((pen) => (
              <line
                key={`${line.label}${x0},${y0},${x1},${y1},${pen.stroke}`}
                x1={x0}
                y1={-y0}
                x2={x1}
                y2={-y1}
                vectorEffect="non-scaling-stroke"
                strokeDasharray={line.group === "safe" ? "6 4" : undefined}
                data-line={line.label}
                {...pen}
              />
            )),
          ),
        )}
      </svg>
      {shown
        .filter((line) => line.box)
        .map((line) => (
          <span
            key={line.label}
            className="absolute rounded-sm bg-black/50 px-1 text-xs whitespace-nowrap text-white"
            style={{
              left: `${50 - 50 * (line.box?.[0] ?? 1)}%`,
              [line.label.includes("ction") ? "top" : "bottom"]: `${50 - 50 * (line.box?.[1] ?? 1)}%`,
            }}
          >
            {line.label}
            {line.group === "protect" ? ` ${looks.aspect}` : ""}
          </span>
        ))}
    </>
  );
}
