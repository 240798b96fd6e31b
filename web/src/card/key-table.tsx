import { Trash2 } from "lucide-react";
import type { KeyKind } from "../api/types";
import type { KeysHere } from "../store/keys";
import { send } from "../store/sending";
import { complain, scrubStage } from "../store/view";
import { choices, hang, isWord } from "../verbs/hanging";
import { deleteKeys, shapeKeys } from "../verbs/keys";

/** As many keys as are listed at once. */
const MOST = 24;
const KINDS: KeyKind[] = ["held", "straight", "eased"];

interface Props {
  thing: string;
  keys: KeysHere[];
  stage: number;
  /** Which of its channels a shape or a deletion is for. */
  group?: string;
  locked?: boolean;
}

/** A thing's keys on place and direction: where they are, and how its curves come in and go out. */
export function KeyTable({ thing, keys, stage, group = "pose", locked = false }: Props) {
  // A camera that was worked by hand may have a thousand: only those about the playhead are listed.
  const at = keys.findIndex((k) => k.frame >= stage);
  const from = Math.max(0, Math.min((at < 0 ? keys.length : at) - MOST / 2, keys.length - MOST));
  const listed = keys.slice(from, from + MOST);
  const shape = async (frame: number, which: "before" | "after", kind: KeyKind) =>
    complain(await send(shapeKeys(thing, frame, { [which]: kind }, group)));
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="text-left text-xs text-faint">
          <th className="font-normal">Frame</th>
          <th className="font-normal">Comes in</th>
          <th className="font-normal">Goes out</th>
          <th className="font-normal">With</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {listed.map((key) => (
          <tr key={key.frame} className={key.frame === stage ? "bg-ochre/15" : ""}>
            <td>
              <button
                type="button"
                className="font-semibold text-ochre underline"
                title={key.channels.length < 6 ? `On ${key.channels.join(", ")}` : "On place and direction"}
                onClick={() => scrubStage(key.frame)}
              >
                {key.frame}
              </button>
            </td>
            {(["before", "after"] as const).map((which) => (
              <td key={which}>
                <select
                  aria-label={`${which === "before" ? "Comes in" : "Goes out"} at ${key.frame}`}
                  className="field min-h-6! w-17 px-1!"
                  value={key[which] ?? ""}
                  disabled={locked}
                  onChange={(e) => shape(key.frame, which, e.target.value as KeyKind)}
                >
                  {key[which] === null && <option value="">mixed</option>}
                  {key[which] === "shaped" && <option>shaped</option>}
                  {KINDS.filter((k) => which === "after" || k !== "held").map((k) => (
                    <option key={k}>{k}</option>
                  ))}
                </select>
              </td>
            ))}
            <td>
              <GoesWith thing={thing} keyed={key} locked={locked} />
            </td>
            <td>
              <button
                type="button"
                aria-label={`Delete the key at ${key.frame}`}
                title="Delete this key"
                disabled={locked}
                onClick={async () => complain(await send(deleteKeys(thing, key.frame, group)))}
              >
                <Trash2 size={13} />
              </button>
            </td>
          </tr>
        ))}
      </tbody>
      {listed.length < keys.length && (
        <tfoot>
          <tr>
            <td colSpan={5} className="pt-1 text-xs text-faint">
              {listed.length} of {keys.length} keys, those about the playhead. All of them stand in the curves
              (U).
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

/** What a key moves in time with: a word, or the start or end of an act. */
function GoesWith({ thing, keyed, locked }: { thing: string; keyed: KeysHere; locked: boolean }) {
  const { frame, bound } = keyed;
  const goes = choices(frame, bound, true);
  return (
    <select
      aria-label={`Goes with, at ${frame}`}
      title={goes.now ? `Moves with ${goes.now}` : "Have this key move in time with an act or a word"}
      className="field min-h-6! w-13 px-1!"
      value={goes.value}
      disabled={locked}
      onChange={(e) => {
        const keys = [{ thing, frame, channel: "all" }];
        const to = goes.pick(e.target.value);
        if (to && isWord(to)) void hang({ keys }, to);
        else void send({ kind: "keys.bind", keys, ...(to ?? {}) }).then(complain);
      }}
    >
      {goes.options.map((one) => (
        <option key={one.value} value={one.value}>
          {one.value ? one.label : "—"}
        </option>
      ))}
    </select>
  );
}
