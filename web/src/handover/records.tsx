import { Button } from "../ui/button";
import { count } from "../ui/count";
import { download, type HandedOver } from "./asking";

const WHOM = { edit: "the edit", animation: "animation and lighting", everybody: "everybody" };

const when = (at: string) =>
  new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });

/** What was handed over before: for whom, of which revision, and what changed since. */
export function Records({
  records,
  onAgain,
}: {
  records: HandedOver[];
  onAgain: (record: HandedOver) => void;
}) {
  if (!records.length)
    return (
      <p className="grid h-64 place-items-center rounded border border-dashed border-line text-sm text-faint">
        Nothing of this scene was handed over yet.
      </p>
    );
  return (
    <ul className="max-h-[26rem] overflow-auto rounded border border-line" aria-label="Handed over before">
      {records.map((one) => (
        <li key={one.id} className="flex items-start gap-3 border-b border-line px-3 py-2.5 text-sm">
          <span className="w-8 shrink-0 font-semibold">{one.number}</span>
          <div className="min-w-0 flex-1">
            <p>
              <b>For {WHOM[one.recipient]}</b> · {when(one.at)} · {count(one.files.length, "file")},{" "}
              {(one.files.reduce((sum, file) => sum + file.bytes, 0) / 2 ** 20).toFixed(1)} MB
            </p>
            <p className="truncate text-xs text-faint" title={one.files.map((file) => file.path).join("\n")}>
              {one.where ? `In ${one.where}` : one.files.map((file) => file.path).join(", ")}
            </p>
            <p
              className={`text-xs ${one.changes ? "text-brick" : "text-faint"}`}
              title={one.since.join("\n")}
            >
              {one.changes
                ? `${count(one.changes, "change")} since: ${one.since.join("; ")}`
                : "The scene has not changed since."}
            </p>
          </div>
          {!one.where && one.here && <Button onClick={() => download(one)}>Download</Button>}
          <Button tip="Choose the same again" onClick={() => onAgain(one)}>
            Again…
          </Button>
        </li>
      ))}
    </ul>
  );
}
