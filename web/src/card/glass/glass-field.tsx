import { Diamond } from "lucide-react";
import type { Camera, GlassName } from "../../api/types";
import { useMoment } from "../../store/moment";
import { endTry, send, tryOut } from "../../store/sending";
import { complain, scrubStage } from "../../store/view";
import { NumberField } from "../../ui/number-field";
import { glassCommand, glassRemedy, keyGlass } from "../../verbs/glass";
import { deleteKeys, shapeKeys } from "../../verbs/keys";

interface Props {
  camera: Camera;
  name: GlassName;
  label: string;
  value: number;
  unit?: string;
  front?: string;
  digits: number;
  step?: number;
  ratio?: number;
}

/** A number of the lens that can be keyed on its own: typed, dragged, and keyed by the diamond beside it. */
export function GlassField({ camera, name, label, value, ...look }: Props) {
  const stage = useMoment((s) => s.stage);
  const keys = camera[name].keys;
  const here = keys.some((k) => k.frame === stage);
  const free = keys.length === 0 || here;
  const what = label.toLowerCase();
  return (
    <div>
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <NumberField
            label={label}
            value={value}
            {...look}
            disabled={camera.locked}
            onTry={free ? (next) => tryOut(glassCommand(camera, name, next, true), stage) : undefined}
            onSet={(next, at) => {
              endTry();
              return send(glassCommand(camera, name, next), at);
            }}
            remedy={glassRemedy(camera, name)}
          />
        </div>
        <button
          type="button"
          aria-label={
            here ? `Delete the key on the ${what} at ${stage}` : `Set a key on the ${what} at ${stage}`
          }
          title={here ? `Delete this key on the ${what}` : `Set a key on the ${what} at this frame`}
          disabled={camera.locked}
          className={`mt-1.5 disabled:opacity-40 ${keys.length ? "text-ochre" : "text-faint hover:text-ochre"}`}
          onClick={async () =>
            complain(
              await (here ? send(deleteKeys(camera.id, stage, name)) : keyGlass(camera.id, name, value)),
            )
          }
        >
          <Diamond size={13} fill={here ? "currentColor" : "none"} />
        </button>
      </div>
      {keys.length > 0 && (
        <p className="flex flex-wrap items-center gap-x-2 text-xs text-faint">
          {keys.map((key) => (
            <span key={key.frame} className="whitespace-nowrap">
              <button
                type="button"
                className="font-semibold text-ochre underline"
                onClick={() => scrubStage(key.frame)}
              >
                {key.frame}
              </button>{" "}
              <select
                aria-label={`How the ${what} leaves its key at ${key.frame}`}
                className="bg-transparent"
                value={key.after}
                disabled={camera.locked}
                onKeyDown={(e) => e.stopPropagation()}
                onChange={async (e) => {
                  const kind = e.target.value as typeof key.after;
                  // A key that leaves held is still reached as it was.
                  const both = kind === "held" ? { after: kind } : { before: kind, after: kind };
                  complain(await send(shapeKeys(camera.id, key.frame, both, name)));
                }}
              >
                <option>shaped</option>
                <option>held</option>
                <option>straight</option>
                <option>eased</option>
              </select>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}
