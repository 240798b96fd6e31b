import { ArrowLeftRight } from "lucide-react";
import { catalogue } from "../../api/catalogue";
import type { Camera } from "../../api/types";
import { send } from "../../store/sending";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";

export function FilmBack({ camera }: { camera: Camera }) {
  const backs = catalogue.film_backs;
  const { back, gate } = camera.lens;
  const chosen = backs.find((b) => b.back.width_mm === back.width_mm && b.back.height_mm === back.height_mm);
  const set = (next: { width_mm: number; height_mm: number; name: string }, at?: number) =>
    send({ kind: "camera.set", camera: camera.id, back: next }, at);
  const custom = { ...back, name: "Custom" };
  const name = chosen?.back.name ?? "Custom";
  return (
    <details className="text-sm">
      <summary className="cursor-pointer">
        <span className="text-faint">Film back</span> {name} {back.width_mm} × {back.height_mm} mm
      </summary>
      <div className="mt-1.5 flex flex-col gap-1.5">
        <Choice
          label="Size"
          value={chosen?.back.name ?? "custom"}
          disabled={camera.locked}
          options={[
            ...backs.map((b) => ({ value: b.back.name, label: `${b.back.name} (${b.standard})` })),
            { value: "custom", label: "Custom" },
          ]}
          onSet={async (name) => {
            const next = backs.find((b) => b.back.name === name);
            if (next) complain(await set(next.back));
          }}
        />
        <NumberField
          label="Back width"
          value={back.width_mm}
          unit="mm"
          step={0.1}
          disabled={camera.locked}
          onSet={(width_mm, at) => set({ ...custom, width_mm }, at)}
        />
        <NumberField
          label="Back height"
          value={back.height_mm}
          unit="mm"
          step={0.1}
          disabled={camera.locked}
          onSet={(height_mm, at) => set({ ...custom, height_mm }, at)}
        />
        <NumberField
          label="Anamorphic squeeze"
          value={camera.lens.squeeze}
          unit="×"
          step={0.05}
          disabled={camera.locked}
          onSet={(squeeze, at) => send({ kind: "camera.set", camera: camera.id, squeeze }, at)}
        />
        <div className="flex items-center gap-1.5">
          <div className="flex-1">
            <Choice
              label="Delivery on the back"
              value={gate}
              disabled={camera.locked}
              options={[
                { value: "fit", label: "fit inside" },
                { value: "fill", label: "fill" },
                { value: "width", label: "keep width" },
                { value: "height", label: "keep height" },
              ]}
              onSet={async (next) =>
                complain(await send({ kind: "camera.set", camera: camera.id, gate: next }))
              }
            />
          </div>
          <Button
            tip="Exchange width and height, for portrait"
            disabled={camera.locked}
            onClick={async () =>
              complain(await set({ name: "Custom", width_mm: back.height_mm, height_mm: back.width_mm }))
            }
          >
            <ArrowLeftRight size={14} />
          </Button>
        </div>
      </div>
    </details>
  );
}
