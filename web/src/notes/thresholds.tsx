import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { sceneList } from "../api/queries";
import type { CutNotes } from "../api/types";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { NumberField } from "../ui/number-field";

/** Which kinds of notes speak, and from which number on: one plain page. */
export function Thresholds({ kinds }: { kinds: CutNotes["kinds"] }) {
  return (
    <div className="min-h-0 flex-1 overflow-auto" data-testid="thresholds">
      <TakeFrom />
      {(["frame", "cut"] as const).map((of) => (
        <section key={of} className="border-b border-line px-3 py-2">
          <h3 className="mb-1 text-sm font-semibold">{of === "frame" ? "Of a frame" : "Of a cut"}</h3>
          <ul className="flex flex-col gap-1.5">
            {kinds
              .filter((kind) => kind.of === of)
              .map((kind) => (
                <li
                  key={kind.name}
                  data-kind={kind.name}
                  className="text-sm"
                  title={`${kind.source}. Usual: ${kind.usual}`}
                >
                  <label className="flex items-center gap-2">
                    <input
                      type="checkbox"
                      className="accent-slate"
                      checked={kind.speaks}
                      onChange={(e) =>
                        void send({ kind: "note.threshold", note: kind.name, speaks: e.target.checked }).then(
                          complain,
                        )
                      }
                    />
                    <span className="flex-1">{kind.label}</span>
                  </label>
                  <div className="flex items-center gap-2 pl-6">
                    <NumberField
                      label="From"
                      value={kind.threshold}
                      digits={4}
                      step={(kind.most - kind.least) / 100}
                      compact
                      disabled={!kind.speaks}
                      onSet={(to) => send({ kind: "note.threshold", note: kind.name, to })}
                    />
                    <span className="flex-1 text-xs text-faint">{kind.unit}</span>
                    {kind.threshold !== kind.usual && (
                      <button
                        type="button"
                        className="text-xs hover:underline"
                        onClick={() => void send({ kind: "note.threshold", note: kind.name }).then(complain)}
                      >
                        Reset
                      </button>
                    )}
                  </div>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

/** The same for all scenes of a show: taken over from another one, or as usual. */
function TakeFrom() {
  const id = useDocument((s) => s.id);
  const { data } = useQuery(sceneList);
  const others = data?.filter((one) => one.id !== id) ?? [];
  const take = async (from: string) => {
    if (from === "usual")
      return complain(await send({ kind: "note.strictness", thresholds: {}, silent: [] }));
    const { data, problem } = await ask(
      client.GET("/api/scenes/{scene_id}", { params: { path: { scene_id: Number(from) } } }),
    );
    if (!data) return complain(problem);
    const { thresholds, silent } = data.scene.noting ?? {};
    return complain(
      await send({ kind: "note.strictness", thresholds: thresholds ?? {}, silent: silent ?? [] }),
    );
  };
  return (
    <div className="border-b border-line px-3 py-2 text-sm">
      <select
        className="field w-full"
        aria-label="Take them over"
        value=""
        onKeyDown={(e) => e.stopPropagation()}
        onChange={(e) => e.target.value && void take(e.target.value)}
      >
        <option value="">Take them over…</option>
        <option value="usual">as usual</option>
        {others.map((one) => (
          <option key={one.id} value={one.id}>
            from {one.name}
          </option>
        ))}
      </select>
    </div>
  );
}
