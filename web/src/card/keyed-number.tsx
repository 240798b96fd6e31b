import { Diamond } from "lucide-react";
import { endTry, send, tryOut } from "../store/sending";
import { complain } from "../store/view";
import { NumberField } from "../ui/number-field";
import type { fieldOf } from "./channel-field";

/** A number of a part of a thing: dragged, typed, keyed. */
export function KeyedNumber({
  thing,
  channel,
  field,
  value,
  keys,
  stage,
  compact,
}: {
  thing: string;
  /** By its whole name. */
  channel: string;
  field: ReturnType<typeof fieldOf>;
  value: number;
  keys: { frame: number }[];
  stage: number;
  compact?: boolean;
}) {
  const number = (v: number, key = false) => ({
    kind: "number.set" as const,
    thing,
    channel,
    value: v,
    frame: stage,
    key,
  });
  const here = keys.some((key) => key.frame === stage);
  return (
    <div className="flex items-center gap-1">
      <div className="min-w-0 flex-1">
        <NumberField
          {...field}
          compact={compact}
          value={value}
          onTry={(v) => tryOut(number(v), stage)}
          onSet={(v, at) => {
            endTry();
            return send(number(v), at);
          }}
        />
      </div>
      <button
        type="button"
        aria-label={`${field.label}: ${here ? `key at ${stage}` : `set a key at ${stage}`}`}
        title={here ? `There is a key at ${stage}` : "Set a key at this frame"}
        className={`p-1 text-ochre ${keys.length ? "" : "opacity-60"}`}
        disabled={here}
        onClick={async () => complain(await send(number(value, true)))}
      >
        <Diamond size={13} fill={here ? "currentColor" : "none"} />
      </button>
    </div>
  );
}
