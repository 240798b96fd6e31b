import { Trash2 } from "lucide-react";
import type { KeyKind } from "../api/types";
import { useDocument } from "../store/document";
import type { KeysHere } from "../store/keys";
import { send } from "../store/sending";
import { complain, scrubStage } from "../store/view";
import { actLabel } from "../verbs/acts";
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
              <GoesWith thing={thing} frame={key.frame} bound={key.bound} locked={locked} />
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

/** The start or end of an act that a key moves in time with. */
function GoesWith({
  thing,
  frame,
  bound,
  locked,
}: {
  thing: string;
  frame: number;
  bound: KeysHere["bound"];
  locked: boolean;
}) {
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const ends = figures.flatMap((f) =>
    f.acts.flatMap((act) =>
      (["first", "last"] as const).map((end) => ({
        value: `${f.id} ${act.id} ${end}`,
        label: `${f.name}'s ${actLabel(act).toLowerCase()} ${end === "first" ? "starts" : "ends"}, ${act.frames[end]}`,
        away: Math.abs(act.frames[end] - frame),
        on: bound?.figure === f.id && bound.act === act.id && bound.end === end,
      })),
    ),
  );
  const near = ends.sort((a, b) => a.away - b.away);
  const now = near.find((one) => one.on)?.value ?? "";
  return (
    <select
      aria-label={`Goes with, at ${frame}`}
      title={near.find((one) => one.on)?.label ?? "Have this key move in time with an act"}
      className="field min-h-6! w-13 px-1!"
      value={now}
      disabled={locked}
      onChange={async (e) => {
        const [figure, act, end] = e.target.value.split(" ");
        const keys = [{ thing, frame, channel: "all" }];
        const to = figure ? { figure, act, end: end as "first" | "last" } : {};
        complain(await send({ kind: "keys.bind", keys, ...to }));
      }}
    >
      <option value="">—</option>
      {near.map((one) => (
        <option key={one.value} value={one.value}>
          {one.label}
        </option>
      ))}
    </select>
  );
}
