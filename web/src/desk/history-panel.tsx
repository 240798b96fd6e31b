import { useQuery } from "@tanstack/react-query";
import { history } from "../api/queries";
import { useDocument } from "../store/document";
import { LongList } from "../ui/long-list";
import { lately } from "../ui/when";

/** What was done, newest first; what is undone stands lighter above. */
export function HistoryPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(history(id, revision));
  return (
    <aside aria-label="History" className="flex h-full flex-col bg-paper">
      <h2 className="heading px-3 py-2">History</h2>
      {data?.length === 0 && <p className="px-3 text-sm text-faint">No edits yet.</p>}
      <LongList
        label="Edits, newest first"
        items={data ?? []}
        keyOf={(edit) => edit.revision}
        height={46}
        className="min-h-0 flex-1"
      >
        {(edit) => (
          <div
            className={`border-b border-line/60 px-3 py-1.5 text-sm ${edit.state === "undone" ? "text-faint line-through" : ""}`}
          >
            {edit.sentence}
            <span className="block text-xs text-faint no-underline">
              {edit.author} · {lately(edit.at)}
              {edit.state === "undone" && " · undone"}
            </span>
          </div>
        )}
      </LongList>
    </aside>
  );
}
