import { useEffect } from "react";
import { sideBySide } from "../picture/sight";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { complain, useView } from "../store/view";
import { Button } from "../ui/button";
import { compareLenses, mountLens } from "../verbs/glass";

/** What is said under each of the pictures when lenses are compared. */
export function CompareLabels({ width, height }: { width: number; height: number }) {
  const comparing = useView((s) => s.comparing);
  const aspect = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const lenses = useDocument((s) => s.scene?.lenses) ?? [];
  const revision = useDocument((s) => s.revision);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new revision or frame is the reason to run
  useEffect(() => {
    const now = useView.getState().comparing;
    if (now && !playing) void compareLenses(now.camera, now.focals);
  }, [revision, stage, playing]);
  if (!comparing) return null;
  const boxes = sideBySide(comparing.found.length, aspect, width / height);
  const primes = lenses.filter((l) => l.shortest_mm === l.longest_mm);
  return comparing.found.map((one, i) => {
    const [x, y, w, h] = boxes[i];
    return (
      <div
        key={`${one.focal_mm}-${boxes[i][0]}`}
        className="absolute flex flex-col gap-1 text-sm text-white"
        style={{ left: x * width, top: (1 - y) * height + 6, width: w * width }}
        data-testid="compared"
        data-top={(1 - y - h) * height}
      >
        <div className="flex items-center gap-1.5">
          <select
            aria-label={`Lens ${i + 1} of the comparison`}
            className="field font-semibold"
            value={one.focal_mm}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) =>
              compareLenses(
                comparing.camera,
                comparing.focals.map((f, n) => (n === i ? Number(e.target.value) : f)),
              )
            }
          >
            {[...new Set([one.focal_mm, ...primes.map((l) => l.shortest_mm)])]
              .sort((a, b) => a - b)
              .map((mm) => (
                <option key={mm} value={mm}>
                  {mm} mm
                </option>
              ))}
          </select>
          <Button
            className="text-ink"
            tip={`Put it on the camera, which moves so that ${one.figure} keeps this size`}
            onClick={async () => {
              const lens = primes.find((l) => l.shortest_mm === one.focal_mm);
              if (!lens) return;
              if (complain(await mountLens(comparing.camera, lens.id, "size")))
                useView.setState({ comparing: null });
            }}
          >
            Use it
          </Button>
        </div>
        <p
          className="leading-snug"
          title={`The camera stands so far from ${one.figure}'s ${one.part}; a thing 2 m behind ${one.figure} reads at ${Math.round(one.behind * 100)} % of the size it would have beside ${one.figure}`}
        >
          <b>{one.distance_m.toFixed(2)} m</b> from {one.figure}'s {one.part}
          <br />2 m behind reads at <b>{Math.round(one.behind * 100)} %</b>
        </p>
      </div>
    );
  });
}
