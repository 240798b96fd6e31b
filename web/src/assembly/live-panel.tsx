import { useQuery } from "@tanstack/react-query";
import { Clapperboard } from "lucide-react";
import { runsOf } from "../api/queries";
import { useDocument } from "../store/document";
import { useLive } from "../store/live";
import { usePreferences } from "../store/preferences";
import { Button } from "../ui/button";
import { Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { when } from "../ui/when";
import { layRun } from "../verbs/live";

/** Cutting live: how, by what rule, and the runs that were made. */
export function LivePanel() {
  const run = useLive((s) => s.run);
  const { reaction, shortest } = usePreferences();
  const cameras = useDocument((s) => s.scene?.cameras) ?? [];
  const kept = async (what: { reaction: number } | { shortest: number }, ok: boolean, asks: string) => {
    if (!ok) return { detail: asks, title: "", remedy: "", status: 0 };
    usePreferences.setState(what);
    return null;
  };
  return (
    <Popped
      label="Cut live"
      trigger={
        <Button
          aria-label="Cut live"
          title="Cut by pressing the cameras' letters while the cut plays"
          on={run !== null}
        >
          <Clapperboard size={14} className={run ? "text-brick" : ""} />
          {run ? `Cutting live · ${run.presses.length - 1}` : "Cut live"}
        </Button>
      }
    >
      <div className="flex w-80 flex-col gap-2 p-2 text-sm">
        <p>
          Watch the cut, play it, and press the letters of cameras
          {cameras.length > 0 && ` (${cameras.map((one) => one.letter).join(" ")})`}: each cuts at once. Where
          it stops, the run is laid over the cut, over the same action.
        </p>
        <NumberField
          label="Moved earlier by"
          unit="s"
          value={reaction}
          step={0.01}
          onSet={(v) => kept({ reaction: v }, v >= 0 && v <= 2, "Give 0 to 2 seconds.")}
        />
        <NumberField
          label="No shot under"
          unit="f"
          digits={0}
          step={1}
          value={shortest}
          onSet={(v) => kept({ shortest: Math.round(v) }, v >= 1, "Give a frame or more.")}
        />
        <Runs />
      </div>
    </Popped>
  );
}

/** The runs that were made. */
function Runs() {
  const refused = useLive((s) => s.refused);
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(runsOf(id, revision));
  const runs = [
    ...(refused ? [{ run: refused, said: "not laid" }] : []),
    ...(data ?? []).map(({ run, at, author }) => ({
      run: { speed: 1, to: null, ...run },
      said: `${when(at)}, ${author}`,
    })),
  ];
  if (!runs.length) return null;
  return (
    <>
      <b className="border-t border-line pt-2">Runs</b>
      <ul className="flex max-h-48 flex-col gap-1 overflow-y-auto" aria-label="Runs">
        {runs.map(({ run, said }) => (
          <li key={said} className="flex items-center gap-2">
            <span className="min-w-0 flex-1">
              <span className="block truncate">
                {run.presses.map(([, letter]) => letter).join(" ")}, frames {run.start}–{run.to}
              </span>
              <span className="block truncate text-xs text-faint">{said}</span>
            </span>
            <Button tip="Lay this run over the cut" onClick={() => layRun(run)}>
              Use
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
