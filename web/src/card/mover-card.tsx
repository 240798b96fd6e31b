import { Diamond, Trash2 } from "lucide-react";
import type { Mover, Pose } from "../api/types";
import { POSE } from "../api/types";
import { frameSelected, removeSelected } from "../desk/verbs";
import { rowOf, send, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { complain, scrubStage } from "../store/view";
import { Button } from "../ui/button";
import { ColourField } from "../ui/colour-field";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { Section } from "./section";

const LABELS: Record<keyof Pose, [string, string]> = {
  x: ["Across", "m"],
  y: ["Height", "m"],
  z: ["Along", "m"],
  pan: ["Faces", "°"],
  tilt: ["Pitch", "°"],
  roll: ["Roll", "°"],
};

/** A rigid mover: it stands where it is put, or moves by keys that are set on purpose. */
export function MoverCard({ mover }: { mover: Mover }) {
  const stage = useMoment((s) => s.stage);
  useDocument((s) => s.baked);
  const row = rowOf(mover.id, stage);
  const pose = row
    ? (Object.fromEntries(POSE.map((n, i) => [n, Number(row[i].toPrecision(7))])) as Pose)
    : null;
  const key = (next: Pose, at?: number) =>
    send({ kind: "keys.set", thing: mover.id, frame: stage, pose: next, shape: "eased" }, at);
  const here = mover.x.keys.some((k) => k.frame === stage);
  const put = (next: Pose, at?: number) =>
    here ? key(next, at) : send({ kind: "mover.place", mover: mover.id, pose: next }, at);
  return (
    <div data-testid="mover-card">
      <div className="border-b border-line px-3 py-2.5">
        <TextField
          label="Name"
          value={mover.name}
          onSet={(name, at) => send({ kind: "mover.set", mover: mover.id, name }, at)}
        />
        <div className="mt-2 flex gap-1">
          <Button tip="Frame in the rover's view" hint="F" onClick={frameSelected}>
            Frame
          </Button>
          <Button tip="Take off the stage" hint="Delete" onClick={() => removeSelected()}>
            <Trash2 size={14} />
          </Button>
        </div>
        <div className="mt-2">
          <ColourField
            label="Colour"
            value={mover.colour}
            onSet={async (colour) => complain(await send({ kind: "mover.set", mover: mover.id, colour }))}
          />
        </div>
      </div>
      <Section
        title="Place and direction"
        side={
          <Button
            tone={here ? "plain" : "ochre"}
            tip="Set a key on place and direction at this frame"
            onClick={async () => pose && complain(await key(pose))}
          >
            <Diamond size={13} fill={here ? "currentColor" : "none"} /> {here ? `Key ${stage}` : "Set key"}
          </Button>
        }
      >
        {pose &&
          POSE.map((name) => (
            <NumberField
              key={name}
              label={LABELS[name][0]}
              unit={LABELS[name][1]}
              value={pose[name]}
              step={LABELS[name][1] === "m" ? 0.05 : 1}
              onSet={(v, at) => put({ ...pose, [name]: v }, at)}
              remedy={(problem, v) =>
                problem.field === "pose"
                  ? { label: `Set a key at ${stage}`, act: () => key({ ...pose, [name]: v }) }
                  : null
              }
            />
          ))}
      </Section>
      <Section title="Keys">
        {mover.x.keys.length === 0 && <p className="text-sm text-faint">None: it stands still.</p>}
        <ul className="flex flex-wrap gap-1 text-sm">
          {mover.x.keys.map((k) => (
            <li
              key={k.frame}
              className={`flex items-center gap-1 rounded-[3px] border px-1.5 ${k.frame === stage ? "border-ochre bg-ochre/15" : "border-line"}`}
            >
              <Diamond size={11} className="text-ochre" fill="currentColor" />
              <button type="button" className="underline" onClick={() => scrubStage(k.frame)}>
                {k.frame}
              </button>
              <button
                type="button"
                aria-label={`Delete the key at ${k.frame}`}
                onClick={async () =>
                  complain(await send({ kind: "keys.delete", thing: mover.id, frame: k.frame }))
                }
              >
                <Trash2 size={12} />
              </button>
            </li>
          ))}
        </ul>
      </Section>
    </div>
  );
}
