import { useQuery } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { motionOf } from "../api/queries";
import type { Strip } from "../api/samples";
import { useCurves } from "../store/curves";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useKeysPicked } from "../store/picked";
import { scrubStage, useView } from "../store/view";
import { type Along, NAMES, useAlong, xOf } from "../ui/strip";
import { inks } from "./paint";

const ROW = 16;

/** A row of the strip: its lines by column, how they are said, and over what they are drawn. */
interface Row {
  label: string;
  says: string;
  lines: { column: string; dash: number[] }[];
  /** From zero, or about what is there. */
  floor: number | null;
  told: (at: (column: string) => number) => string;
}

const percent = (n: number) => `${(100 * n).toFixed(1)} %`;
const signed = (n: number) => (n >= 0 ? `+${n.toFixed(2)}` : n.toFixed(2));

const ROWS: Row[] = [
  {
    label: "Size",
    says: "How much of the frame's height the subject fills",
    lines: [{ column: "height", dash: [] }],
    floor: null,
    told: (at) => `${percent(at("height"))} tall`,
  },
  {
    label: "Place",
    says: "Where in the frame it is: across (through) and up (dashes), −1 to 1",
    lines: [
      { column: "x", dash: [] },
      { column: "y", dash: [4, 2] },
    ],
    floor: null,
    told: (at) => `${signed(at("x"))} ${signed(at("y"))}`,
  },
  {
    label: "Camera",
    says: "How fast the camera goes (through) and turns (dashes)",
    lines: [
      { column: "travel", dash: [] },
      { column: "turn", dash: [4, 2] },
    ],
    floor: 0,
    told: (at) => `${at("travel").toFixed(1)} m/s ${at("turn").toFixed(0)}°/s`,
  },
  {
    label: "Background",
    says: "How large the background reads beside the subject, against the first frame: what a dolly zoom is for",
    lines: [{ column: "background", dash: [] }],
    floor: null,
    told: (at) => `×${at("background").toFixed(2)}`,
  },
];

/** The subject as the audience sees it, on the stage's ruler, with the hitches of the move. */
export function SeenStrip() {
  const { thing } = useCurves();
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const scene = useDocument((s) => s.scene);
  const tried = useDocument((s) => s.overlay?.strip ?? null);
  const stage = useMoment((s) => (s.playing ? null : s.stage));
  const dim = useView((s) => s.dim);
  const along = useAlong();
  const [chosen, setChosen] = useState<string | null>(null);
  const sheet = useRef<HTMLCanvasElement>(null);
  const camera = itemOf(scene, "cameras", thing);
  const on = camera?.focus.on;
  const focused = on?.kind === "figure" ? on.figure : on?.kind === "mover" ? on.mover : null;
  const whom = [...(scene?.figures ?? []), ...(scene?.movers ?? [])];
  const subject =
    whom.find((w) => w.id === chosen)?.id ?? whom.find((w) => w.id === focused)?.id ?? whom[0]?.id;
  const { data } = useQuery({
    ...motionOf(id, camera?.id ?? "", subject ?? "", revision),
    enabled: !!camera && !!subject,
  });
  useEffect(() => {
    useCurves.setState({ watched: camera && subject ? { camera: camera.id, subject } : null });
    return () => useCurves.setState({ watched: null });
  }, [camera?.id, subject, camera]);
  const strip = data?.strip ?? null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another room has other colours
  useLayoutEffect(() => {
    const el = sheet.current;
    const c = el?.getContext("2d", { willReadFrequently: true });
    if (!el || !c) return;
    const ratio = window.devicePixelRatio || 1;
    el.width = Math.round(along.width * ratio);
    el.height = Math.round(ROWS.length * ROW * ratio);
    c.setTransform(ratio, 0, 0, ratio, 0, 0);
    const ink = inks();
    for (let i = 0; i < ROWS.length; i++) {
      c.strokeStyle = ink.line;
      c.setLineDash([]);
      c.beginPath();
      c.moveTo(0, (i + 1) * ROW - 0.5);
      c.lineTo(along.width, (i + 1) * ROW - 0.5);
      c.stroke();
      if (!strip) continue;
      for (const line of ROWS[i].lines) {
        const range = reach([strip, tried], line.column, ROWS[i].floor, along);
        if (tried) draw(c, along, strip, line, i, range, ink.faint, 0.45);
        draw(c, along, tried ?? strip, line, i, range, tried ? ink.slate : ink.ink, 1);
      }
    }
  }, [along.left, along.ppf, along.width, strip, tried, dim]);
  if (!camera) return null;
  if (!subject)
    return (
      <p className="border-t border-line px-2 py-1 text-xs text-faint">
        With a figure on the stage, what is seen of it stands here.
      </p>
    );
  const at = stage === null || !strip ? -1 : stage - strip.first;
  const told = tried ?? strip;
  return (
    <div className="flex shrink-0 border-t border-line" data-testid="seen-strip">
      <div className="shrink-0 border-r border-line" style={{ width: NAMES }}>
        {ROWS.map((row, i) => (
          <div
            key={row.label}
            className="flex items-center gap-1 overflow-hidden px-1.5 text-xs whitespace-nowrap"
            style={{ height: ROW }}
            title={row.says}
          >
            {i === 0 ? (
              <select
                aria-label="Subject of the strip"
                className="max-w-14 min-w-0 flex-1 rounded-sm bg-transparent text-xs text-faint"
                value={subject}
                onChange={(e) => setChosen(e.target.value)}
                onKeyDown={(e) => e.stopPropagation()}
              >
                {whom.map((w) => (
                  <option key={w.id} value={w.id}>
                    {w.name}
                  </option>
                ))}
              </select>
            ) : (
              <span className="flex-1 text-faint">{row.label}</span>
            )}
            {told && at >= 0 && at < told.count && (
              <span data-row={row.label}>
                {Number.isFinite(told.columns[row.lines[0].column][at])
                  ? row.told((column) => told.columns[column][at])
                  : "not seen"}
              </span>
            )}
          </div>
        ))}
      </div>
      <div className="relative min-w-0 flex-1 overflow-hidden" style={{ height: ROWS.length * ROW }}>
        <canvas ref={sheet} className="absolute inset-0 h-full w-full" />
        {!tried &&
          data?.beyond.map((one) => (
            <button
              type="button"
              key={`${one.first}${one.sentence}`}
              title={`${one.sentence} (${one.first}–${one.last})`}
              aria-label={one.sentence}
              className="absolute h-[3px] bg-brick"
              style={{
                left: xOf(along, one.first),
                width: Math.max((one.last - one.first + 1) * along.ppf, 3),
                top: 3 * ROW - 4,
              }}
              onClick={() => scrubStage(one.first)}
            />
          ))}
        {!tried &&
          data?.hitches.map((hitch) => (
            <button
              type="button"
              key={`${hitch.first}${hitch.kind}${hitch.measure}`}
              data-hitch={hitch.kind}
              title={`${hitch.sentence}. Press for a mend.`}
              aria-label={hitch.sentence}
              className="absolute inset-y-0 border-x-2 border-brick bg-brick/20 hover:bg-brick/35"
              style={{
                left: xOf(along, hitch.first) - 2,
                width: Math.max((hitch.last - hitch.first + 1) * along.ppf, 8) + 4,
              }}
              onClick={() => {
                scrubStage(hitch.first);
                useKeysPicked.setState({ hitch, proposed: false });
              }}
            />
          ))}
      </div>
    </div>
  );
}

/** How far a line goes over what is in sight. */
function reach(
  strips: (Strip | null)[],
  column: string,
  floor: number | null,
  along: Along,
): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const strip of strips) {
    if (!strip) continue;
    const from = Math.max(Math.floor(along.left) - strip.first, 0);
    const to = Math.min(Math.ceil(along.left + along.width / along.ppf) - strip.first, strip.count);
    for (let i = from; i < to; i++) {
      const value = strip.columns[column][i];
      if (!Number.isFinite(value)) continue;
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
  }
  if (low > high) return [0, 1];
  if (floor !== null) return [floor, Math.max(high, floor + 1e-6)];
  const least = Math.max(Math.abs(high) * 0.02, 1e-4);
  const middle = (low + high) / 2;
  const half = Math.max(high - low, least) / 2;
  return [middle - half, middle + half];
}

function draw(
  c: CanvasRenderingContext2D,
  along: Along,
  strip: Strip,
  line: Row["lines"][number],
  row: number,
  [low, high]: [number, number],
  ink: string,
  alpha: number,
): void {
  const values = strip.columns[line.column];
  const from = Math.max(Math.floor(along.left) - strip.first - 1, 0);
  const to = Math.min(Math.ceil(along.left + along.width / along.ppf) - strip.first + 1, strip.count);
  c.strokeStyle = ink;
  c.globalAlpha = alpha;
  c.lineWidth = 1.3;
  c.setLineDash(line.dash);
  c.beginPath();
  let down = false;
  for (let i = from; i < to; i++) {
    const value = values[i];
    if (!Number.isFinite(value)) {
      down = false;
      continue;
    }
    const x = xOf(along, strip.first + i) + along.ppf / 2;
    const y = (row + 1) * ROW - 3 - ((value - low) / (high - low)) * (ROW - 6);
    if (down) c.lineTo(x, y);
    else c.moveTo(x, y);
    down = true;
  }
  c.stroke();
  c.globalAlpha = 1;
  c.setLineDash([]);
}
