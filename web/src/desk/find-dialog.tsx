import { useMemo, useState } from "react";
import { useDocument } from "../store/document";
import { lookThrough, select, useView } from "../store/view";
import { Dialog } from "../ui/dialog";
import { ACTIONS } from "./actions";
import { found as matching } from "./found";
import { keyShown } from "./keys";

interface Found {
  does: string;
  key: string;
  run(): unknown;
}

/** A field that finds any action by what it does, and anything on the stage by its name. */
export function FindDialog({ typed, onClose }: { typed: string; onClose: () => void }) {
  const scene = useDocument((s) => s.scene);
  const [at, setAt] = useState(0);
  const all = useMemo((): Found[] => {
    const cameras = (scene?.cameras ?? []).map((c, i) => ({
      does: `Look through camera ${c.letter} ${c.name}`,
      key: i < 9 ? String(i + 1) : "",
      run: () => lookThrough({ camera: c.id }),
    }));
    const things = [
      ...(scene?.figures ?? []).map((t) => ["figure", t] as const),
      ...(scene?.movers ?? []).map((t) => ["mover", t] as const),
      ...(scene?.shots ?? []).map((t) => ["shot", t] as const),
    ].map(([kind, thing]) => ({
      does: `Select ${kind === "shot" ? "shot " : ""}${thing.name}`,
      key: "",
      run: () => select(kind, [thing.id]),
    }));
    const actions = ACTIONS.map((a) => ({ does: a.does, key: keyShown(a), run: a.run }));
    return [...actions, ...cameras, ...things];
  }, [scene]);
  const found = matching(all, typed);
  const chosen = Math.min(at, found.length - 1);
  const take = (one: Found | undefined) => {
    if (!one) return;
    onClose();
    one.run();
  };
  return (
    <Dialog title="What do you want to do?" onClose={onClose}>
      <input
        autoFocus
        aria-label="Find an action"
        role="combobox"
        aria-expanded="true"
        aria-controls="found-actions"
        aria-activedescendant={`found-${chosen}`}
        className="field w-full text-base"
        placeholder="Type a few letters: lens, loop, hide…"
        value={typed}
        onChange={(e) => {
          useView.setState({ asking: { what: "find", typed: e.target.value } });
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(chosen + 1, found.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(chosen - 1, 0));
          else if (e.key === "Enter") take(found[chosen]);
          else return;
          e.preventDefault();
        }}
      />
      <div id="found-actions" role="listbox" aria-label="Actions" className="mt-2 max-h-80 overflow-y-auto">
        {found.map((one, i) => (
          <button
            type="button"
            role="option"
            id={`found-${i}`}
            aria-selected={i === chosen}
            tabIndex={-1}
            key={one.does}
            className={`flex w-full items-center gap-3 rounded-[3px] px-2 py-1 text-left text-sm ${i === chosen ? "bg-slate-wash" : "hover:bg-well"}`}
            onClick={() => take(one)}
          >
            <span className="flex-1">{one.does}</span>
            <span className="font-semibold whitespace-nowrap">{one.key}</span>
          </button>
        ))}
        {found.length === 0 && <p className="px-2 py-3 text-sm text-faint">No matches. Try fewer letters.</p>}
      </div>
    </Dialog>
  );
}
