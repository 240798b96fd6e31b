import { Copy, Scissors, Trash2 } from "lucide-react";
import { useState } from "react";
import { showTimecode } from "../api/samples";
import type { Command, Do, Problem, Shot } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { CUT, cutTable, LINES, placedShots, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { timecodeFrame } from "../store/timecode";
import { complain, scrubCut } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { OneOf } from "../ui/one-of";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import { duplicateShots, splitHere } from "../verbs/cutting";
import { choices, hang, isWord } from "../verbs/hanging";
import { Section } from "./section";
import { ShotBoard } from "./shot-board";
import { ShotJoins } from "./shot-joins";
import { ShotOwn } from "./shot-own";
import { ShotVersions } from "./shot-versions";

type Rest = "follows" | "stays" | "gives";
const RESTS: { value: Rest; label: string }[] = [
  { value: "follows", label: "The cut follows" },
  { value: "stays", label: "The rest stays" },
  { value: "gives", label: "The neighbour is trimmed" },
];

const cutEdit = (todo: Do, seen?: number): Promise<Problem | null> =>
  send({ kind: "cut.edit", do: todo }, seen);

/** A shot, or several: what is typed is done to all of them. */
export function ShotCard({ shots }: { shots: Shot[] }) {
  const [shot] = shots;
  const ids = shots.map((one) => one.id);
  const cameras = useDocument((s) => s.scene?.cameras) ?? [];
  const cut = useMoment((s) => s.cut);
  useVersion(CUT);
  useVersion(LINES);
  const hangs = choices(shot.stage.first, shot.bound);
  const placed = placedShots().find((p) => p.id === shot.id);
  const set = (what: Partial<Omit<Extract<Command, { kind: "shot.set" }>, "kind" | "shot">>, at?: number) =>
    send({ kind: "shot.set", shot: shot.id, ...what }, at);
  const many = shots.length > 1;
  return (
    <div data-testid="shot-card">
      <div className="border-b border-line px-3 py-2.5">
        {many ? (
          <p className="font-semibold">{shots.length} shots</p>
        ) : (
          <TextField names label="Shot" value={shot.name} onSet={(name, at) => set({ name }, at)} />
        )}
        <div className="mt-2 flex gap-1">
          <Button onClick={() => placed && scrubCut(placed.cut_first)}>Go to its first frame</Button>
          <Button
            tip="Split it at the playhead"
            disabled={!placed || cut <= placed.cut_first || cut > placed.cut_last}
            onClick={splitHere}
          >
            <Scissors size={14} />
          </Button>
          <Button tip="Copy it behind itself" onClick={() => duplicateShots(ids)}>
            <Copy size={14} />
          </Button>
          <Button
            tip="Delete and close up"
            hint="Delete"
            onClick={async () => complain(await cutEdit({ edit: "ripple_delete", shots: ids }))}
          >
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      <Section title="Shows">
        <Choice
          label="Camera"
          value={shot.camera ?? ""}
          options={[
            ...(shot.camera ? [] : [{ value: "", label: "None yet: a slate" }]),
            ...cameras.map((c) => ({ value: c.id, label: `${c.letter} ${c.name}` })),
          ]}
          onSet={async (camera) =>
            camera && complain(await cutEdit({ edit: "swap_angle", shots: ids, camera }))
          }
        />
        <Ends shot={shot} ids={ids} />
        {!many && shot.camera && hangs.any && (
          <Choice
            label="Cut hangs on"
            value={hangs.value}
            options={hangs.options}
            onSet={(value) => {
              const to = hangs.pick(value);
              void hang({ shots: [shot.id] }, to && isWord(to) ? to : null);
            }}
          />
        )}
        {(["slip", "slide"] as const).map((edit) => (
          <NumberField
            key={edit}
            label={edit === "slip" ? "Slip by" : "Slide by"}
            value={0}
            digits={0}
            step={1}
            unit="f"
            perSecond={rate()}
            disabled={edit === "slip" && !shot.camera}
            onSet={(v, at) => cutEdit({ edit, shots: ids, by: Math.round(v) }, at)}
          />
        ))}
      </Section>
      {!many && <ShotVersions shot={shot} />}
      {!many && <ShotOwn shot={shot} />}
      {!many && <ShotBoard shot={shot} />}
      <ShotJoins shot={shot} ids={ids} />
      <Section title="In the cut">
        <NumberField
          label="Black before it"
          counts
          value={shot.gap_before}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={(v, at) => set({ gap_before: Math.round(v) }, at)}
        />
        <Button onClick={async () => complain(await cutEdit({ edit: "lift", shots: ids }))}>
          Delete, leaving a gap
        </Button>
      </Section>
      {!many && shot.camera && (
        <Section title="When assembled again">
          <Tick on={shot.stays} onSet={(stays) => void set({ stays }).then(complain)}>
            It stays as it is
          </Tick>
          {shot.proposed?.why && (
            <p className="text-sm text-faint">
              Proposed as {shot.proposed.stage.first}–{shot.proposed.stage.last}: {shot.proposed.why}.
            </p>
          )}
        </Section>
      )}
      {!many && (
        <Section title="Note">
          <TextField bare label="Note" value={shot.note ?? ""} onSet={(note, at) => set({ note }, at)} />
        </Section>
      )}
    </div>
  );
}

/** Its first and last frame, in any of the three clocks, and what an end that moves does to the rest of the cut. */
function Ends({ shot, ids }: { shot: Shot; ids: string[] }) {
  const [counted, setClock] = useState<"stage" | "shot" | "cut">("stage");
  // A slate has no frames of the stage.
  const clock = counted === "stage" && !shot.camera ? "shot" : counted;
  const [rest, setRest] = useState<Rest>("follows");
  const placed = placedShots().find((p) => p.id === shot.id);
  const table = cutTable();
  const { first, last } = shot.stage;
  const trim = (edit: "trim_in" | "trim_out", by: number, at: number) =>
    cutEdit(
      { edit, shots: ids, by: Math.round(by), leaving: rest === "stays", overwriting: rest === "gives" },
      at,
    );
  const from = clock === "stage" ? first : 1;
  const count = last - first + 1;
  return (
    <>
      <OneOf
        label="Counted in"
        value={clock}
        options={[
          ...(shot.camera
            ? [{ value: "stage" as const, label: "Stage", tip: "Its ends as frames of the stage" }]
            : []),
          { value: "shot", label: "Shot", tip: "Its ends as frames of its own, counted from 1" },
          {
            value: "cut",
            label: "Cut",
            tip: "Its ends in the cut's timecode: an end that touches rolls the cut",
          },
        ]}
        onSet={setClock}
      />
      {clock === "cut" && placed && table
        ? (["in", "out"] as const).map((edge) => (
            <TextField
              key={edge}
              label={edge === "in" ? "First in the cut" : "Last in the cut"}
              value={showTimecode(
                table.timecode[edge === "in" ? placed.cut_first : placed.cut_last],
                table.drop,
              )}
              onSet={async (text, at) => {
                const to = timecodeFrame(table, text, placed.cut_first);
                const wrong = { detail: "The cut has no such timecode.", title: "", remedy: "", status: 0 };
                return to < 0 ? wrong : cutEdit({ edit: "extend", shots: [shot.id], edge, to }, at);
              }}
            />
          ))
        : (["first", "last"] as const).map((end) => (
            <NumberField
              key={end}
              label={`${clock === "stage" ? "Stage" : "Shot"} ${end}`}
              value={end === "first" ? from : from + count - 1}
              digits={0}
              step={1}
              unit="f"
              perSecond={rate()}
              onSet={(v, at) =>
                end === "first" ? trim("trim_in", v - from, at) : trim("trim_out", v - (from + count - 1), at)
              }
            />
          ))}
      {clock !== "cut" && <Choice label="Then" value={rest} options={RESTS} onSet={setRest} />}
      <p className="text-sm text-faint">
        {count} frames{placed && `, cut frames ${placed.cut_first}–${placed.cut_last}`}
      </p>
    </>
  );
}
