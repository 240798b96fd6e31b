import { Check, Trash2 } from "lucide-react";
import { useState } from "react";
import { catalogue } from "../api/catalogue";
import type { ChannelSpec, Does, Pass } from "../api/types";
import { seconds } from "../operating/state";
import { useDocument } from "../store/document";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { labelOf } from "../verbs/keys";

type Measure = ChannelSpec["measure"];

/** The passes of what is operated: which is in use, and how smooth and how near its keys are. */
export function Passes({ thing, figure }: { thing: string; figure: boolean }) {
  const passes = useDocument((s) => s.scene?.passes) ?? [];
  const [chosen, setChosen] = useState<string | null>(null);
  const mine = passes.filter((pass) => pass.of[pass.of.kind as never] === thing);
  if (mine.length === 0) return null;
  const one =
    mine.find((pass) => pass.id === chosen) ?? mine.findLast((pass) => pass.in_use) ?? mine[mine.length - 1];
  return (
    <div className="mt-1 flex flex-col gap-2 border-t border-line pt-2" data-testid="passes">
      <h3 className="heading">Passes</h3>
      <div className="flex flex-wrap items-center gap-1" role="radiogroup" aria-label="Passes">
        {mine.map((pass) => (
          <button
            key={pass.id}
            type="button"
            role="radio"
            aria-checked={pass === one}
            title={`${pass.name}: frames ${pass.first} to ${pass.first + pass.tracks[0].hand.length - 1}${pass.in_use ? ", in use" : ""}`}
            className={`flex h-6 items-center gap-1 rounded-[3px] border px-1.5 text-xs whitespace-nowrap ${pass === one ? "border-slate bg-slate-wash font-semibold" : "border-line bg-sheet hover:bg-well"}`}
            onClick={() => setChosen(pass.id)}
          >
            {pass.in_use && <Check size={12} aria-label="in use" className="text-slate" />}
            {pass.name}
          </button>
        ))}
      </div>
      <OnePass key={one.id} pass={one} figure={figure} />
    </div>
  );
}

function OnePass({ pass, figure }: { pass: Pass; figure: boolean }) {
  const kinds = catalogue.channels.camera;
  const [within, setWithin] = useState<Partial<Record<Measure, number>>>({});
  const names = pass.tracks.map((track) => track.channel);
  const length = pass.tracks[0].hand.length;
  const found = names.map((name) => kinds?.find((spec) => spec.name === name)).filter((spec) => !!spec);
  const measures = figure ? [] : [...new Map(found.map((spec) => [spec.measure, spec])).values()];
  const use = (more: Partial<Does<"pass.use">> = {}): Does<"pass.use"> => ({
    kind: "pass.use",
    id: pass.id,
    smooth_s: pass.smooth_s,
    within,
    ...more,
  });
  const keep = (command: Does<"pass.use">) => {
    endTry();
    dropOverlay();
    return send(command);
  };
  const show = (command: Does<"pass.use">) => tryOut(command, pass.first, pass.first + length - 1);
  return (
    <>
      <span className="text-xs text-faint">
        {names.map((name) => labelOf(kinds, name)).join(", ")} · {seconds(length - 1)}
      </span>
      <div>
        <NumberField
          label="Smooth"
          compact
          unit="s"
          digits={2}
          step={0.01}
          value={pass.smooth_s}
          onTry={(smooth_s) => smooth_s >= 0 && show(use({ smooth_s }))}
          onSet={(smooth_s) => keep(use({ smooth_s }))}
        />
      </div>
      {measures.map((spec) => (
        <div key={spec.measure}>
          <NumberField
            label={`Keys within`}
            compact
            unit={spec.kept_unit}
            digits={3}
            step={0.001}
            value={within[spec.measure] ?? catalogue.simplified_within[spec.measure] ?? 0}
            onTry={(one) => one > 0 && show(use({ within: { ...within, [spec.measure]: one } }))}
            onSet={async (one) => {
              const next = { ...within, [spec.measure]: one };
              const problem = await keep(use({ within: next }));
              if (!problem) setWithin(next);
              return problem;
            }}
          />
        </div>
      ))}
      <div className="flex items-center gap-2">
        <Button
          tip="Have it move as in this pass; the others stay to be tried again"
          on={pass.in_use}
          onClick={async () => complain(await keep(use()))}
        >
          {pass.in_use ? "In use" : "Use it"}
        </Button>
        <Button
          tip="Keeps its keys and deletes the other passes of the same numbers"
          onClick={async () => complain(await keep(use({ choose: true })))}
        >
          Keep this
        </Button>
        <Popped label={pass.name} trigger={<Button title="Its name, and throwing it away">…</Button>}>
          <div className="flex w-52 flex-col gap-2 p-1.5">
            <TextField
              label="Name"
              value={pass.name}
              onSet={(name) => send({ kind: "pass.name", id: pass.id, name })}
            />
            <Button
              tip="Keys that came of it stay"
              onClick={async () => complain(await send({ kind: "things.delete", ids: [pass.id] }))}
            >
              <Trash2 size={14} /> Throw it away
            </Button>
          </div>
        </Popped>
      </div>
    </>
  );
}
