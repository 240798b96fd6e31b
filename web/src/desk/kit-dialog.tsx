import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { ask, client } from "../api/client";
import { productionKit } from "../api/queries";
import type { KitLens } from "../api/types";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, notice } from "../store/view";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";

/** The lens kit of the scene, and the production's own. */
export function KitDialog({ onClose }: { onClose: () => void }) {
  const id = useDocument((s) => s.id) ?? 0;
  const lenses = useDocument((s) => s.scene?.lenses) ?? [];
  const { data: own } = useQuery(productionKit);
  const queries = useQueryClient();
  const same = JSON.stringify(own) === JSON.stringify(lenses);
  const keep = async () => {
    const { problem } = await ask(
      client.PUT("/api/scenes/{scene_id}/kit", { params: { path: { scene_id: id } } }),
    );
    if (!complain(problem)) return;
    notice("New scenes of this production begin with this kit.", "", false);
    await queries.invalidateQueries(productionKit);
  };
  return (
    <Dialog title="Lens kit" onClose={onClose} wide>
      <div className="flex flex-col gap-1.5" data-testid="kit">
        {lenses.length === 0 && (
          <p className="text-sm text-faint">No lens yet: cameras take any focal length and stop.</p>
        )}
        {lenses.map((lens) => (
          <LensRow key={lens.id} lens={lens} />
        ))}
        <div className="mt-2 flex flex-wrap items-center gap-2 border-t border-line pt-3">
          <Button onClick={async () => complain(await send({ kind: "lens.add", shortest_mm: free(lenses) }))}>
            <Plus size={14} /> Prime
          </Button>
          <Button
            onClick={async () =>
              complain(
                await send({
                  kind: "lens.add",
                  shortest_mm: free(lenses),
                  longest_mm: free(lenses) * 3,
                  widest: 2.8,
                }),
              )
            }
          >
            <Plus size={14} /> Zoom
          </Button>
          <span className="flex-1" />
          <Button
            tip="Use the production's kit in this scene"
            disabled={!own || same}
            onClick={async () => own && complain(await send({ kind: "lens.kit", lenses: own }))}
          >
            Take the production's kit
          </Button>
          <Button tip="New scenes begin with this kit" disabled={same} onClick={keep}>
            Keep for the production
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

/** A focal length that no lens of the kit has yet. */
function free(lenses: KitLens[]): number {
  let mm = 28;
  while (lenses.some((l) => l.shortest_mm === mm)) mm += 1;
  return mm;
}

const setLens = (lens: KitLens, what: object, seen: number) =>
  send({ kind: "lens.set", lens: lens.id, ...what }, seen);

function LensRow({ lens }: { lens: KitLens }) {
  const prime = lens.shortest_mm === lens.longest_mm;
  return (
    <div className="flex items-center gap-2.5 border-b border-line/60 py-1" data-lens={lens.name}>
      <div className="w-34 shrink-0">
        <TextField
          bare
          label={`Name of the ${lens.name}`}
          value={lens.name}
          onSet={(name, at) => setLens(lens, { name }, at)}
        />
      </div>
      <div className="flex w-64 shrink-0 gap-2">
        <LensNumber lens={lens} name="shortest_mm" label={prime ? "Length" : "From"} />
        {!prime && <LensNumber lens={lens} name="longest_mm" label="To" />}
      </div>
      <LensNumber lens={lens} name="widest" label="Widest" />
      <LensNumber lens={lens} name="nearest_m" label="Nearest" />
      <LensNumber lens={lens} name="blades" label="Blades" />
      <button
        type="button"
        aria-label={`Take the ${lens.name} out of the kit`}
        title="Take it out of the kit"
        onClick={async () => complain(await send({ kind: "things.delete", ids: [lens.id] }))}
      >
        <Trash2 size={14} />
      </button>
    </div>
  );
}

const NUMBERS = {
  shortest_mm: { unit: "mm", digits: 0, step: 1 },
  longest_mm: { unit: "mm", digits: 0, step: 1 },
  widest: { front: "f/", digits: 1, step: 0.1 },
  nearest_m: { unit: "m", digits: 2, step: 0.01 },
  blades: { digits: 0, step: 1 },
};

function LensNumber({ lens, name, label }: { lens: KitLens; name: keyof typeof NUMBERS; label: string }) {
  return (
    <div className="min-w-0 flex-1">
      <NumberField
        {...NUMBERS[name]}
        label={label}
        compact
        value={lens[name]}
        onSet={(value, at) => setLens(lens, { [name]: name === "blades" ? Math.round(value) : value }, at)}
      />
    </div>
  );
}
