import type { Camera, GlassName } from "../../api/types";
import { useMoment } from "../../store/moment";
import { endTry, send, tryOut } from "../../store/sending";
import { NumberField } from "../../ui/number-field";
import { glassCommand, glassRemedy, keyGlass } from "../../verbs/glass";
import { ChannelKeys, KeyDiamond } from "../channel-keys";

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
            onTry={free ? (next) => tryOut(glassCommand(camera.id, name, next, true), stage) : undefined}
            onSet={(next, at) => {
              endTry();
              return send(glassCommand(camera.id, name, next), at);
            }}
            remedy={glassRemedy(camera, name)}
          />
        </div>
        <KeyDiamond
          thing={camera.id}
          channel={name}
          what={what}
          keys={keys}
          locked={camera.locked}
          onKey={() => keyGlass(camera.id, name, value)}
        />
      </div>
      <ChannelKeys thing={camera.id} channel={name} what={what} keys={keys} locked={camera.locked} />
    </div>
  );
}
