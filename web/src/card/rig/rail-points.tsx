import { Plus, Spline, Trash2 } from "lucide-react";
import type { Camera, Layer } from "../../api/types";
import { useMoment } from "../../store/moment";
import { endTry, send, tryOut } from "../../store/sending";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";
import { NumberField } from "../../ui/number-field";
import { setFields } from "../../verbs/rig";

type Rail = Extract<Layer, { kind: "rail" }>;

/** The points of a rail: their heights here, their places on the plan. */
export function RailPoints({ camera, layer, shut }: { camera: Camera; layer: Rail; shut: boolean }) {
  const stage = useMoment((s) => s.stage);
  const fields = (points: Rail["points"]) => ({
    kind: "rig.set" as const,
    camera: camera.id,
    layer: layer.id,
    fields: { points },
  });
  const raised = (i: number, y: number) =>
    layer.points.map((p, k): Rail["points"][number] => (k === i ? [p[0], y, p[2]] : p));
  return (
    <div className="flex flex-col gap-1" data-testid="rail-points">
      <div className="flex items-center text-sm text-faint">
        <span className="flex-1">Points, by their heights</span>
        <Button
          tip="Take the wobble out of its points between the ends"
          disabled={shut}
          onClick={async () =>
            complain(await send({ kind: "rig.rail.smooth", camera: camera.id, layer: layer.id }))
          }
        >
          <Spline size={13} /> Smooth
        </Button>
      </div>
      {layer.points.map((point, i) => (
        <div key={i} className="flex items-start gap-1">
          <div className="min-w-0 flex-1">
            <NumberField
              label={`Point ${i + 1} at`}
              value={point[1]}
              unit="m"
              step={0.05}
              disabled={shut}
              onTry={(y) => tryOut(fields(raised(i, y)), stage)}
              onSet={(y, at) => {
                endTry();
                return send(fields(raised(i, y)), at);
              }}
            />
          </div>
          <button
            type="button"
            className="mt-1.5 text-faint hover:text-ink disabled:opacity-40"
            aria-label={`One more point after point ${i + 1}`}
            title="One more point after this one"
            disabled={shut}
            onClick={async () =>
              complain(await send({ kind: "rig.rail.point", camera: camera.id, layer: layer.id, after: i }))
            }
          >
            <Plus size={13} />
          </button>
          <button
            type="button"
            className="mt-1.5 text-faint hover:text-brick disabled:opacity-40"
            aria-label={`Delete point ${i + 1}`}
            title="Delete this point"
            disabled={shut || layer.points.length < 3}
            onClick={async () =>
              complain(
                await setFields(camera.id, layer.id, { points: layer.points.filter((_, k) => k !== i) }),
              )
            }
          >
            <Trash2 size={13} />
          </button>
        </div>
      ))}
    </div>
  );
}
