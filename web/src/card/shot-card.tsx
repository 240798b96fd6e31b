import { Copy, Scissors, Trash2 } from "lucide-react";
import type { Command, Shot } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { CUT, placedShots, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, scrubCut } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { duplicateShot, splitHere } from "../verbs/cutting";
import { Section } from "./section";

export function ShotCard({ shot }: { shot: Shot }) {
  const cameras = useDocument((s) => s.scene?.cameras) ?? [];
  const cut = useMoment((s) => s.cut);
  useVersion(CUT);
  const placed = placedShots().find((p) => p.id === shot.id);
  const set = (what: Partial<Omit<Extract<Command, { kind: "shot.set" }>, "kind" | "shot">>, at?: number) =>
    send({ kind: "shot.set", shot: shot.id, ...what }, at);
  const trim = (end: "first" | "last") => (v: number, at: number) =>
    send({ kind: "shot.trim" as const, shot: shot.id, [end]: Math.round(v), ripple: true }, at);
  return (
    <div data-testid="shot-card">
      <div className="border-b border-line px-3 py-2.5">
        <TextField names label="Shot" value={shot.name} onSet={(name, at) => set({ name }, at)} />
        <div className="mt-2 flex gap-1">
          <Button onClick={() => placed && scrubCut(placed.cut_first)}>Go to its first frame</Button>
          <Button
            tip="Split it at the playhead"
            disabled={!placed || cut <= placed.cut_first || cut > placed.cut_last}
            onClick={splitHere}
          >
            <Scissors size={14} />
          </Button>
          <Button tip="Copy it behind itself" onClick={() => duplicateShot(shot.id)}>
            <Copy size={14} />
          </Button>
          <Button
            tip="Delete and close up"
            hint="Delete"
            onClick={async () =>
              complain(await send({ kind: "shot.delete", shot: shot.id, leave_gap: false }))
            }
          >
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      <Section title="Shows">
        <Choice
          label="Camera"
          value={shot.camera}
          options={cameras.map((c) => ({ value: c.id, label: `${c.letter} ${c.name}` }))}
          onSet={async (camera) => complain(await set({ camera }))}
        />
        <NumberField
          label="Stage first"
          value={shot.stage.first}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={trim("first")}
        />
        <NumberField
          label="Stage last"
          value={shot.stage.last}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={trim("last")}
        />
        {(["slip", "slide"] as const).map((edit) => (
          <NumberField
            key={edit}
            label={edit === "slip" ? "Slip by" : "Slide by"}
            value={0}
            digits={0}
            step={1}
            unit="f"
            perSecond={rate()}
            onSet={(v, at) =>
              send({ kind: "cut.edit", do: { edit, shots: [shot.id], by: Math.round(v) } }, at)
            }
          />
        ))}
        <p className="text-sm text-faint">
          {shot.stage.last - shot.stage.first + 1} frames. Trimming here moves the rest of the cut along; drag
          an edge with Alt to leave it in place.
        </p>
      </Section>
      <Section title="In the cut">
        {placed && (
          <p className="text-sm">
            Cut frames {placed.cut_first}–{placed.cut_last}
          </p>
        )}
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
        <Button
          onClick={async () => complain(await send({ kind: "shot.delete", shot: shot.id, leave_gap: true }))}
        >
          Delete, leaving a gap
        </Button>
      </Section>
    </div>
  );
}
