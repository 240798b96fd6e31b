import { ChevronDown, ChevronUp, Diamond, Eye, EyeOff, Lock, LockOpen, Trash2 } from "lucide-react";
import { catalogue } from "../../api/catalogue";
import type { Camera, ChannelSpec, Layer } from "../../api/types";
import { useDocument } from "../../store/document";
import { rate, useMoment } from "../../store/moment";
import { endTry, send, tryOut } from "../../store/sending";
import { useValues } from "../../store/values";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { deleteKeys, setKeyOn } from "../../verbs/keys";
import { channelOf, numberCommand, setFields } from "../../verbs/rig";
import { Fold } from "../section";
import { Legs } from "./legs";
import { RailPoints } from "./rail-points";
import { Subjects } from "./subjects";

/** One layer opened: its numbers, each keyed by its diamond, its range and blends, and what can be done with it. */
export function LayerNumbers({ camera, layer }: { camera: Camera; layer: Layer }) {
  const kind = catalogue.layers[layer.kind];
  const value = (field: string) => (layer as unknown as Record<string, unknown>)[field];
  const still = new Set(
    kind.idle.filter((one) => value(one.field) === one.value).flatMap((one) => one.channels),
  );
  const values = useValues(camera, layer);
  const frames = useDocument((s) => s.scene?.frames);
  const shut = camera.locked || layer.locked;
  const set = (fields: Record<string, unknown>, at?: number) => setFields(camera.id, layer.id, fields, at);
  const choices = kind.choices.filter(
    ({ field }) => field !== "together" || (layer.kind === "aim" && layer.at.length > 1),
  );
  const numbers = kind.channels.filter((spec) => !still.has(spec.name));
  const number = (spec: ChannelSpec) => (
    <LayerNumber
      key={spec.name}
      camera={camera}
      layer={layer}
      spec={spec}
      value={values[spec.name] ?? channelOf(layer, spec.name)?.rest ?? 0}
      shut={shut}
    />
  );
  // What is seldom set is folded away, unless it is set here.
  const folded = (spec: ChannelSpec) => {
    const channel = channelOf(layer, spec.name);
    return spec.usual !== null && channel?.keys.length === 0 && channel.rest === spec.usual;
  };
  const ranged = layer.first !== null || layer.last !== null || layer.blend_in > 0 || layer.blend_out > 0;
  const range = (
    <>
      {(["first", "last"] as const).map((end) => (
        <NumberField
          key={end}
          compact
          label={end === "first" ? "From" : "To"}
          value={layer[end] ?? frames?.[end] ?? 0}
          digits={0}
          step={1}
          unit="f"
          disabled={shut}
          onSet={(v, at) => set({ [end]: Math.round(v) === frames?.[end] ? null : Math.round(v) }, at)}
        />
      ))}
      {(["blend_in", "blend_out"] as const).map((end) => (
        <NumberField
          key={end}
          compact
          label={end === "blend_in" ? "In over" : "Out over"}
          value={layer[end]}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          disabled={shut}
          onSet={(v, at) => set({ [end]: Math.max(Math.round(v), 0) }, at)}
        />
      ))}
    </>
  );
  return (
    <div className="flex flex-col gap-1.5 border-x border-b border-line bg-paper p-2" data-testid="layer">
      {choices.map(({ field, label, values: options }) => (
        <Choice
          key={field}
          label={label}
          value={String(value(field))}
          options={options.map(([value, text]) => ({ value: String(value), label: text }))}
          onSet={async (value) =>
            complain(await set({ [field]: value === "true" || value === "false" ? value === "true" : value }))
          }
        />
      ))}
      <Subjects camera={camera} layer={layer} shut={shut} />
      {layer.kind === "breath" && <Hands camera={camera} layer={layer} />}
      {layer.kind === "trail" && layer.how === "lag" && <Followers camera={camera} layer={layer} />}
      {layer.kind === "flight" && <Legs camera={camera} layer={layer} shut={shut} />}
      {layer.kind === "rail" && <RailPoints camera={camera} layer={layer} shut={shut} />}
      {numbers.filter((spec) => !folded(spec)).map(number)}
      <div className="grid grid-cols-2 gap-x-2 gap-y-1.5">
        {kind.numbers
          .filter((one) => !still.has(one.field))
          .map((one) => (
            <NumberField
              key={one.field}
              compact
              label={one.label}
              value={value(one.field) as number}
              unit={one.unit}
              digits={one.digits}
              step={one.step}
              disabled={shut}
              onSet={(v, at) => set({ [one.field]: v }, at)}
            />
          ))}
        {ranged && range}
      </div>
      <Fold title="More" folded={ranged ? "weight and turn" : "weight, turn, range and blends"}>
        {numbers.filter(folded).map(number)}
        {!ranged && <div className="grid grid-cols-2 gap-x-2 gap-y-1.5">{range}</div>}
      </Fold>
      <div className="flex flex-wrap gap-1">
        <Button
          tip={layer.off ? "Put this layer on" : "Put this layer off"}
          on={layer.off}
          onClick={async () => complain(await set({ off: !layer.off }))}
        >
          {layer.off ? <EyeOff size={13} /> : <Eye size={13} />}
        </Button>
        <Button
          tip={layer.locked ? "Unlock this layer" : "Lock this layer"}
          on={layer.locked}
          onClick={async () => complain(await set({ locked: !layer.locked }))}
        >
          {layer.locked ? <Lock size={13} /> : <LockOpen size={13} />}
        </Button>
        {([-1, 1] as const).map((by) => (
          <Button
            key={by}
            tip={by < 0 ? "Earlier among its kind" : "Later among its kind"}
            disabled={shut}
            onClick={async () =>
              complain(await send({ kind: "rig.order", camera: camera.id, layer: layer.id, by }))
            }
          >
            {by < 0 ? <ChevronUp size={13} /> : <ChevronDown size={13} />}
          </Button>
        ))}
        <Button
          tip={`Take the ${kind.label.toLowerCase()} off`}
          disabled={shut}
          onClick={async () => complain(await send({ kind: "rig.take", camera: camera.id, layer: layer.id }))}
        >
          <Trash2 size={13} />
        </Button>
      </div>
    </div>
  );
}

/** Ready hands, from tripod to running; each is only its three numbers. */
function Hands({ camera, layer }: { camera: Camera; layer: Extract<Layer, { kind: "breath" }> }) {
  const hands = catalogue.hands;
  const now = Object.entries(hands).find(
    ([, [mm, turn, hertz]]) =>
      layer.place_mm.rest === mm && layer.turn_deg.rest === turn && layer.hertz.rest === hertz,
  );
  return (
    <Choice
      label="Breathes"
      value={now?.[0] ?? "own"}
      options={[
        ...Object.keys(hands).map((name) => ({ value: name, label: name })),
        ...(now ? [] : [{ value: "own", label: "by its own numbers" }]),
      ]}
      onSet={async (name) => {
        const [place_mm, turn_deg, hertz] = hands[name];
        complain(
          await send({
            kind: "rig.set",
            camera: camera.id,
            layer: layer.id,
            numbers: { place_mm, turn_deg, hertz },
          }),
        );
      }}
    />
  );
}

/** How operators follow, from close and steady to far and loose; each is only its three numbers. */
function Followers({ camera, layer }: { camera: Camera; layer: Extract<Layer, { kind: "trail" }> }) {
  const followers = catalogue.followers;
  const keyed = [layer.distance_m, layer.lag_s, layer.lag_height_s].some((c) => c.keys.length);
  const now = Object.entries(followers).find(
    ([, [far, late, up]]) =>
      layer.distance_m.rest === far && layer.lag_s.rest === late && layer.lag_height_s.rest === up,
  );
  if (keyed) return null;
  return (
    <Choice
      label="Follows"
      value={now?.[0] ?? "own"}
      disabled={camera.locked || layer.locked}
      options={[
        ...Object.entries(followers).map(([name, [far, late]]) => ({
          value: name,
          label: `${name}: ${far} m, ${late} s`,
        })),
        ...(now ? [] : [{ value: "own", label: "by its own numbers" }]),
      ]}
      onSet={async (name) => {
        if (!(name in followers)) return;
        const [distance_m, lag_s, lag_height_s] = followers[name];
        complain(
          await send({
            kind: "rig.set",
            camera: camera.id,
            layer: layer.id,
            numbers: { distance_m, lag_s, lag_height_s },
          }),
        );
      }}
    />
  );
}

function LayerNumber({
  camera,
  layer,
  spec,
  value,
  shut,
}: {
  camera: Camera;
  layer: Layer;
  spec: ChannelSpec;
  value: number;
  shut: boolean;
}) {
  const stage = useMoment((s) => s.stage);
  const keys = channelOf(layer, spec.name)?.keys ?? [];
  const here = keys.some((k) => k.frame === stage);
  const channel = `${layer.id}.${spec.name}`;
  return (
    <div className="flex items-start gap-1">
      <div className="min-w-0 flex-1">
        <NumberField
          label={spec.label}
          value={value}
          unit={spec.unit}
          digits={spec.digits}
          step={spec.step}
          disabled={shut}
          onTry={
            keys.length && !here
              ? undefined
              : (v) => tryOut(numberCommand(camera, layer, spec.name, v), stage)
          }
          onSet={(v, at) => {
            endTry();
            return send(numberCommand(camera, layer, spec.name, v), at);
          }}
        />
      </div>
      <button
        type="button"
        aria-label={`${here ? "Delete the" : "Set a"} key on ${spec.label.toLowerCase()} at ${stage}`}
        title={here ? "Delete this key" : "Set a key at this frame"}
        disabled={shut}
        className={`mt-1.5 disabled:opacity-40 ${keys.length ? "text-ochre" : "text-faint hover:text-ochre"}`}
        onClick={async () =>
          complain(
            await send(
              here ? deleteKeys(camera.id, stage, channel) : setKeyOn(camera.id, channel, stage, value),
            ),
          )
        }
      >
        <Diamond size={13} fill={here ? "currentColor" : "none"} />
      </button>
    </div>
  );
}
