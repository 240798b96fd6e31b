import type { Cue } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { CUT, cutTable, LINES, useVersion } from "../store/samples";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, scrubCut, scrubStage } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Popped } from "../ui/menu";
import { nudge } from "../ui/nudge";
import { useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import { TextField } from "../ui/text-field";
import { choices, goesWith, hang, isWord } from "../verbs/hanging";

/** Cues on the stage's ruler: pressed, gone to; dragged, moved; their names and what they go with under a press of the right. */
export function StageCues() {
  const cues = useDocument((s) => s.shown?.cues) ?? [];
  const along = useAlong();
  return cues
    .filter((cue) => visible(along, cue.frame, cue.frame))
    .map((cue) => <StageCue key={cue.id} cue={cue} />);
}

function StageCue({ cue }: { cue: Cue }) {
  const along = useAlong();
  const hold = useFrameHold();
  const stored = useDocument((s) => s.scene?.cues.find((one) => one.id === cue.id)?.frame) ?? cue.frame;
  const command = (by: number) => ({ kind: "cue.set" as const, cue: cue.id, frame: stored + by });
  const drag = hold(() => ({
    move: (by) => tryOut(command(by), useMoment.getState().stage),
    drop: async (by) => {
      endTry();
      if (by === null) scrubStage(stored);
      else if (by) complain(await send(command(by)));
      else dropOverlay();
    },
    cancel: () => {
      endTry();
      dropOverlay();
    },
  }));
  return (
    <div
      className="absolute top-0 z-2 flex"
      style={{ left: xOf(along, cue.frame) + along.ppf / 2 - 1 }}
      data-cue={cue.name}
    >
      <button
        type="button"
        className="flex h-4 max-w-28 cursor-pointer items-center border-l-2 border-ochre bg-ochre/20 pr-1 pl-1 text-xs leading-none whitespace-nowrap"
        title={`${cue.name} at ${cue.frame}${cue.bound ? `, goes with ${goesWith(cue.frame, cue.bound) ?? "what is gone"}` : ""}: press to go there, drag to move`}
        onKeyDown={(e) => {
          if (e.key === "Enter" || e.key === " ") {
            e.preventDefault();
            scrubStage(stored);
          }
          const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          if (!by) return;
          e.preventDefault();
          void nudge(cue.id, [by], async ([sum]) => {
            const now = useDocument.getState().scene?.cues.find((one) => one.id === cue.id);
            return (
              now !== undefined &&
              complain(await send({ kind: "cue.set", cue: cue.id, frame: now.frame + sum }))
            );
          });
        }}
        {...drag}
      >
        <span className="truncate">{cue.name}</span>
      </button>
      <Popped
        label={`Cue ${cue.name}`}
        trigger={
          <button
            type="button"
            className="h-4 bg-ochre/20 px-0.5 text-xs leading-none text-faint hover:text-ink"
            aria-label={`More of the cue ${cue.name}`}
          >
            ▾
          </button>
        }
      >
        <CueCard cue={cue} />
      </Popped>
    </div>
  );
}

function CueCard({ cue }: { cue: Cue }) {
  useVersion(LINES);
  const goes = choices(cue.frame, cue.bound, true);
  return (
    <div className="flex w-60 flex-col gap-1.5 p-1.5">
      <TextField
        label="Cue"
        value={cue.name}
        onSet={(name, at) => send({ kind: "cue.set", cue: cue.id, name }, at)}
      />
      <Choice
        label="Goes with"
        value={goes.value}
        options={goes.options}
        onSet={(value) => {
          const to = goes.pick(value);
          if (to && isWord(to)) return void hang({ cues: [cue.id] }, to);
          void send({ kind: "cue.set", cue: cue.id, ...(to ?? { free: true }) }).then(complain);
        }}
      />
      <Button onClick={async () => complain(await send({ kind: "things.delete", ids: [cue.id] }))}>
        Delete this cue
      </Button>
    </div>
  );
}

/** Cues on the cut's ruler, where the cut shows their frames. */
export function CutCues() {
  const cues = useDocument((s) => s.shown?.cues) ?? [];
  const along = useAlong();
  useVersion(CUT);
  const table = cutTable();
  if (!table) return null;
  return cues.flatMap((cue) => {
    const at = table.firstCut[cue.frame - table.first];
    if (at === undefined || at < 0 || !visible(along, at, at)) return [];
    return [
      <button
        type="button"
        key={cue.id}
        title={`${cue.name}: press to go there in the cut`}
        className="absolute top-0 z-2 h-4 max-w-24 truncate border-l-2 border-ochre bg-ochre/20 px-1 text-xs leading-none"
        style={{ left: xOf(along, at) + along.ppf / 2 - 1 }}
        onClick={() => scrubCut(at)}
      >
        {cue.name}
      </button>,
    ];
  });
}
