import { useQuery } from "@tanstack/react-query";
import { frameLines, headsIn } from "../api/queries";
import { useDocument } from "../store/document";
import type { Looks } from "../store/looks";
import { useMoment } from "../store/moment";
import { useSeenCamera } from "../store/seen";
import { useView } from "../store/view";

const GROUPS = ["safe", "thirds", "centre", "diagonals", "golden", "protect"] as const;

/** The lines an artist asked for, laid over the delivery frame as the server has them. */
export function FrameLines() {
  const looks = useView((s) => s.looks);
  const aspect = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const any = GROUPS.some((g) => looks[g]);
  const follow = useFollowed(looks.follow && looks.protect);
  const { data } = useQuery({
    ...frameLines(aspect, looks.standard, looks.aspect, follow),
    enabled: any,
    placeholderData: (was) => was,
  });
  if (!any || !data) return null;
  const shown = data.filter((line) => looks[line.group as keyof Looks]);
  const boxes = shown.filter((line) => line.group === "protect");
  // Several lie over each other: only one can dim what it leaves out.
  const box = boxes.length === 1 ? boxes[0].box : null;
  const [middle] = boxes[0]?.middle ?? [0];
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
            d={`M-1 -1H1V1H-1Z M${middle - box[0]} ${-box[1]}V${box[1]}H${middle + box[0]}V${-box[1]}Z`}
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
              left: `${50 + 50 * ((line.middle?.[0] ?? 0) - (line.box?.[0] ?? 1))}%`,
              [line.label.includes("ction") ? "top" : "bottom"]: `${50 - 50 * (line.box?.[1] ?? 1)}%`,
            }}
          >
            {line.label}
            {line.group === "protect" && boxes.length === 1 ? ` ${looks.aspect}` : ""}
          </span>
        ))}
    </>
  );
}

/** Where across the frame the largest head is, at rest; in the middle where nobody is followed. */
function useFollowed(on: boolean): number {
  const camera = useSeenCamera();
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({
    ...headsIn(id, camera?.id ?? "", stage, revision),
    enabled: on && camera !== null && !playing,
    placeholderData: (was) => was,
  });
  const head = on ? data?.find((one) => Math.abs(one.x) < 1 && Math.abs(one.y) < 1) : undefined;
  return head ? Math.round(head.x * 100) / 100 : 0;
}
