import { ChevronDown, ChevronUp, Plus, Trash2 } from "lucide-react";
import type { Camera, Layer } from "../../api/types";
import { useDocument } from "../../store/document";
import { FEELS } from "../../store/feels";
import { rate } from "../../store/moment";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { setFields } from "../../verbs/rig";

type Flight = Extract<Layer, { kind: "flight" }>;
type Leg = Flight["legs"][number];

/** A flight's perches in order: how long each leg takes, how it feels, what it swings round, how long it waits. */
export function Legs({ camera, layer, shut }: { camera: Camera; layer: Flight; shut: boolean }) {
  const scene = useDocument((s) => s.scene);
  const perches = scene?.perches ?? [];
  const keep = (legs: Leg[]) => setFields(camera.id, layer.id, { legs });
  const change = (i: number, part: Partial<Leg>) =>
    keep(layer.legs.map((leg, k) => (k === i ? { ...leg, ...part } : leg)));
  const swap = (i: number, by: number) => {
    const legs = [...layer.legs];
    [legs[i], legs[i + by]] = [legs[i + by], legs[i]];
    return keep(legs);
  };
  const figures = scene?.figures ?? [];
  return (
    <div className="flex flex-col gap-1.5" data-testid="legs">
      {layer.legs.map((leg, i) => (
        <div
          key={`${i}-${leg.to.perch}`}
          className="flex flex-col gap-1 rounded-[3px] border border-line bg-sheet p-1.5"
        >
          <div className="flex items-center gap-1">
            <div className="min-w-0 flex-1">
              <Choice
                label={i === 0 ? "From" : "To"}
                value={leg.to.perch}
                disabled={shut}
                options={perches.map((p) => ({ value: p.id, label: p.name }))}
                onSet={async (perch) => complain(await change(i, { to: { kind: "perch", perch } }))}
              />
            </div>
            <button
              type="button"
              aria-label={`Leg ${i + 1} earlier`}
              title="Earlier"
              disabled={shut || i === 0}
              onClick={async () => complain(await swap(i, -1))}
            >
              <ChevronUp size={13} />
            </button>
            <button
              type="button"
              aria-label={`Leg ${i + 1} later`}
              title="Later"
              disabled={shut || i === layer.legs.length - 1}
              onClick={async () => complain(await swap(i, 1))}
            >
              <ChevronDown size={13} />
            </button>
            <button
              type="button"
              aria-label={`Leave out leg ${i + 1}`}
              title="Leave this perch out"
              disabled={shut || layer.legs.length < 3}
              className="disabled:opacity-40"
              onClick={async () => complain(await keep(layer.legs.filter((_, k) => k !== i)))}
            >
              <Trash2 size={13} />
            </button>
          </div>
          {i > 0 && (
            <>
              <NumberField
                label="Takes"
                value={leg.frames}
                digits={0}
                step={1}
                counts
                perSecond={rate()}
                disabled={shut}
                onSet={(frames) => change(i, { frames: Math.round(frames) })}
              />
              <Choice
                label="Feel"
                value={leg.feel}
                options={FEELS}
                disabled={shut}
                onSet={async (feel) => complain(await change(i, { feel }))}
              />
              <Choice
                label="Goes"
                value={leg.round?.kind === "figure" ? leg.round.figure : leg.round ? "other" : ""}
                disabled={shut}
                options={[
                  { value: "", label: "straight" },
                  ...figures.map((f) => ({ value: f.id, label: `round ${f.name}` })),
                  ...(leg.round && leg.round.kind !== "figure"
                    ? [{ value: "other", label: "round something" }]
                    : []),
                ]}
                onSet={async (figure) =>
                  complain(
                    await change(i, {
                      round: figure ? { kind: "figure", figure, joint: "root" } : null,
                    }),
                  )
                }
              />
            </>
          )}
          <NumberField
            label="Waits there"
            value={leg.wait}
            digits={0}
            step={1}
            counts
            perSecond={rate()}
            disabled={shut}
            onSet={(wait) => change(i, { wait: Math.max(Math.round(wait), 0) })}
          />
        </div>
      ))}
      <Button
        disabled={shut || perches.length === 0}
        onClick={async () => {
          const last = layer.legs[layer.legs.length - 1];
          const next = perches.find((p) => !layer.legs.some((leg) => leg.to.perch === p.id)) ?? perches[0];
          complain(await keep([...layer.legs, { ...last, to: { kind: "perch", perch: next.id }, wait: 0 }]));
        }}
      >
        <Plus size={13} /> One more perch
      </Button>
    </div>
  );
}
