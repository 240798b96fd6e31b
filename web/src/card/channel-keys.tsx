import { Diamond } from "lucide-react";
import type { Channel, Problem } from "../api/types";
import { useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain, scrubStage } from "../store/view";
import { deleteKeys, shapeKeys } from "../verbs/keys";

/** As many keys as are listed at once, those about the playhead. */
const MOST = 12;

interface Props {
  thing: string;
  channel: string;
  /** The channel as it stands in a sentence. */
  what: string;
  keys: Channel["keys"];
  locked: boolean;
}

/** Sets a key on a channel at this frame, or takes the one that is there away. */
export function KeyDiamond({
  thing,
  channel,
  what,
  keys,
  locked,
  onKey,
}: Props & { onKey: () => Promise<Problem | null> }) {
  const stage = useMoment((s) => s.stage);
  const here = keys.some((k) => k.frame === stage);
  return (
    <button
      type="button"
      aria-label={here ? `Delete the key on the ${what} at ${stage}` : `Set a key on the ${what} at ${stage}`}
      title={here ? `Delete this key on the ${what}` : `Set a key on the ${what} at this frame`}
      disabled={locked}
      className={`mt-1.5 disabled:opacity-40 ${keys.length ? "text-ochre" : "text-faint hover:text-ochre"}`}
      onClick={async () => complain(await (here ? send(deleteKeys(thing, stage, channel)) : onKey()))}
    >
      <Diamond size={13} fill={here ? "currentColor" : "none"} />
    </button>
  );
}

/** The keys of one channel, each with how the curve leaves it. */
export function ChannelKeys({ thing, channel, what, keys, locked }: Props) {
  const stage = useMoment((s) => s.stage);
  if (keys.length === 0) return null;
  const at = keys.findIndex((key) => key.frame >= stage);
  const from = Math.max(0, Math.min((at < 0 ? keys.length : at) - MOST / 2, keys.length - MOST));
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-xs text-faint">
      {keys.slice(from, from + MOST).map((key) => (
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
            disabled={locked}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={async (e) => {
              const kind = e.target.value as typeof key.after;
              // A key that leaves held is still reached as it was.
              const both = kind === "held" ? { after: kind } : { before: kind, after: kind };
              complain(await send(shapeKeys(thing, key.frame, both, channel)));
            }}
          >
            <option>shaped</option>
            <option>held</option>
            <option>straight</option>
            <option>eased</option>
          </select>
        </span>
      ))}
      {keys.length > MOST && <span>… of {keys.length}</span>}
    </p>
  );
}
