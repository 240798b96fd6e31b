import { Crosshair, Plus, Trash2 } from "lucide-react";
import type { Figure, Gaze } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { samplesOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { complain, scrubStage, useView } from "../store/view";
import { focusName } from "../store/words";
import { Button } from "../ui/button";
import { NumberField } from "../ui/number-field";
import { pickLook } from "../verbs/rig";
import { Section } from "./section";

const PARTS = [
  ["weight", "Weight"],
  ["eyes", "Eyes"],
  ["head", "Head"],
  ["chest", "Chest"],
] as const;

/** What a figure looks at, whatever else it does. */
export function Gazes({ figure }: { figure: Figure }) {
  const picking = useView((s) => s.picking === "look");
  useVersion(figure.id);
  const missed = (samplesOf(figure.id)?.facts.gazes ?? []) as (number | null)[];
  return (
    <Section
      title="Looks"
      side={
        <Button on={picking} onClick={() => pickLook(figure.id)}>
          <Plus size={13} /> Look at…
        </Button>
      }
    >
      {figure.gazes.length === 0 && (
        <p className="text-sm text-faint">
          Straight ahead. Press Look at, then point at somebody or something.
        </p>
      )}
      {figure.gazes.map((gaze, i) => (
        <Row key={gaze.id} figure={figure} gaze={gaze} missed={missed[i] ?? null} />
      ))}
    </Section>
  );
}

function Row({ figure, gaze, missed }: { figure: Figure; gaze: Gaze; missed: number | null }) {
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  const command = (part: Partial<Gaze>) => ({
    kind: "figure.gaze" as const,
    figure: figure.id,
    gaze: { ...gaze, ...part },
  });
  const on = gaze.frames.first <= stage && stage <= gaze.frames.last;
  if (!scene) return null;
  return (
    <div className={`border-l-2 pl-2 ${on ? "border-slate" : "border-line"}`} data-testid="gaze">
      <div className="flex items-center gap-1 text-sm">
        <button
          type="button"
          className="font-semibold text-slate underline"
          title="Go to its first frame"
          onClick={() => scrubStage(gaze.frames.first)}
        >
          at {focusName(scene, gaze.at)}
        </button>
        <span className="flex-1" />
        <button
          type="button"
          aria-label={`Look at something else than ${focusName(scene, gaze.at)}`}
          title="Point at something else"
          onClick={() => pickLook(figure.id, gaze.id)}
        >
          <Crosshair size={13} />
        </button>
        <button
          type="button"
          aria-label={`No longer look at ${focusName(scene, gaze.at)}`}
          title="Stop looking at it"
          onClick={async () =>
            complain(await send({ kind: "figure.gaze.take", figure: figure.id, gaze: gaze.id }))
          }
        >
          <Trash2 size={13} />
        </button>
      </div>
      {missed !== null && (
        <p className="text-xs text-brick">
          <button type="button" className="font-semibold underline" onClick={() => scrubStage(missed)}>
            {missed}
          </button>
          : farther round than head and eyes can turn
        </p>
      )}
      <div className="grid grid-cols-2 gap-x-2 gap-y-1">
        {(["first", "last"] as const).map((end) => (
          <NumberField
            key={end}
            compact
            label={end === "first" ? "From" : "To"}
            value={gaze.frames[end]}
            unit="f"
            digits={0}
            step={1}
            perSecond={rate()}
            onSet={(v, at) => send(command({ frames: { ...gaze.frames, [end]: Math.round(v) } }), at)}
          />
        ))}
        {PARTS.map(([name, label]) => (
          <NumberField
            key={name}
            compact
            label={label}
            value={gaze[name]}
            unit=""
            digits={2}
            step={0.05}
            onTry={(v) => tryOut(command({ [name]: v }), stage)}
            onSet={(v, at) => {
              endTry();
              return send(command({ [name]: v }), at);
            }}
          />
        ))}
      </div>
    </div>
  );
}
