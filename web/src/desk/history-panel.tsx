import { useQuery } from "@tanstack/react-query";
import { history } from "../api/queries";
import { useDocument } from "../store/document";

/** What was done, newest first; what is undone stands lighter above. */
export function HistoryPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(history(id, revision));
  return (
    <aside aria-label="History" className="h-full overflow-y-auto bg-paper">
      <h2 className="heading px-3 py-2">History</h2>
      {data?.length === 0 && <p className="px-3 text-sm text-faint">Nothing has been done here yet.</p>}
      <ol>
        {data?.map((edit) => (
          <li
            key={edit.revision}
            className={`border-b border-line/60 px-3 py-1.5 text-sm ${edit.state === "undone" ? "text-faint line-through" : ""}`}
          >
            {edit.sentence}
            <span className="block text-xs text-faint no-underline">
              {edit.author} · {new Date(edit.at).toLocaleTimeString()}
              {edit.state === "undone" && " · undone"}
            </span>
          </li>
        ))}
      </ol>
    </aside>
  );
}
