import { Link2, Link2Off } from "lucide-react";
import { KEY, keyOn } from "../api/samples";
import type { Channel, ChannelSpec, KeyKind } from "../api/types";
import { useCurves } from "../store/curves";
import { Button } from "../ui/button";
import { Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { editKeys, picked, withPicked } from "../verbs/curves";

const KINDS: KeyKind[] = ["held", "straight", "eased", "shaped"];

type OneKey = Channel["keys"][number];

/** How the curves come into the picked keys, or go out of them. */
export function Kind({ side, label, keys }: { side: "before" | "after"; label: string; keys: OneKey[] }) {
  const kinds = new Set(keys.map((k) => k[side]));
  const all = kinds.size === 1 ? [...kinds][0] : "";
  return (
    <label className="flex items-center gap-1 text-xs text-faint">
      {label}
      <select
        aria-label={side === "before" ? "Come in" : "Go out"}
        className="field min-h-6! w-20 px-1! py-0! text-xs"
        value={all}
        onChange={(e) =>
          void withPicked((at) => ({ kind: "keys.shape", keys: at, [side]: e.target.value as KeyKind }))
        }
        onKeyDown={(e) => e.stopPropagation()}
      >
        {!all && <option value="">mixed</option>}
        {KINDS.filter((kind) => side === "after" || kind !== "held").map((kind) => (
          <option key={kind}>{kind}</option>
        ))}
      </select>
    </label>
  );
}

/** Whether the two handles of a key turn together. */
export function Tied({ keys }: { keys: OneKey[] }) {
  if (!keys.some((k) => k.before === "shaped" && k.after === "shaped")) return null;
  const tied = keys.every((k) => k.tied);
  return (
    <Button
      className="h-6 px-1.5!"
      on={tied}
      tip={
        tied
          ? "Both handles turn together; press to free them"
          : "The handles move independently; press to tie them"
      }
      onClick={() => void withPicked((at) => ({ kind: "keys.shape", keys: at, tied: !tied }))}
    >
      {tied ? <Link2 size={13} /> : <Link2Off size={13} />}
    </Button>
  );
}

/** The frame and value of the first of the picked keys: typed again, the lot goes with it. */
export function Numbers({
  spec,
  first,
  keys,
}: {
  spec: ChannelSpec;
  first: OneKey;
  keys: Float32Array | undefined;
}) {
  const at = keys ? keyOn(keys, first.frame) : -1;
  return (
    <>
      <div className="w-32">
        <NumberField
          compact
          label="Frame"
          value={first.frame}
          digits={0}
          step={1}
          onSet={(to) => editKeys({ kind: "keys.move", keys: picked(), by: Math.round(to) - first.frame })}
        />
      </div>
      <div className="w-36">
        <NumberField
          compact
          label={spec.label}
          front={spec.front || undefined}
          unit={spec.unit}
          value={keys && at >= 0 ? keys[at + KEY.shown] : first.value}
          digits={Math.max(spec.digits, 2)}
          step={spec.step}
          onSet={(to) =>
            editKeys({ kind: "keys.move", keys: picked(), to, measure: spec.measure, channel: spec.name })
          }
        />
      </div>
    </>
  );
}

/** The handles of one key in numbers. */
export function Handles({
  spec,
  name,
  first,
  keys,
}: {
  spec: ChannelSpec;
  name: string;
  first: OneKey;
  keys: Float32Array | undefined;
}) {
  const sides = (["before", "after"] as const).filter((side) => first[side] === "shaped");
  const { thing } = useCurves();
  if (sides.length === 0 || !keys || !thing) return null;
  const at = keyOn(keys, first.frame);
  return (
    <Popped
      label="Handles"
      trigger={
        <Button className="h-6" tip="The handles in numbers">
          Handles
        </Button>
      }
    >
      <div className="grid w-60 gap-1.5 p-1.5">
        {sides.map((side) => {
          const from = at + (side === "before" ? KEY.backX : KEY.outX);
          const [frames, value] = [keys[from], keys[from + 1]];
          const put = (f: number, v: number) =>
            editKeys({
              kind: "keys.handle",
              keys: [{ thing, channel: name, frame: first.frame }],
              side,
              frames: f,
              value: v,
            });
          const word = side === "before" ? "In" : "Out";
          return (
            <div key={side} className="grid gap-1">
              <NumberField
                label={`${word}, frames`}
                value={frames}
                digits={2}
                step={0.5}
                onSet={(f) => put(f, value)}
              />
              <NumberField
                label={`${word}, ${spec.kept_unit || "value"}`}
                value={value}
                digits={3}
                step={spec.step}
                onSet={(v) => put(frames, v)}
              />
            </div>
          );
        })}
      </div>
    </Popped>
  );
}
