import { CircleDot, Diamond, Trash2 } from "lucide-react";
import { catalogue } from "../api/catalogue";
import { type Mover, POSE } from "../api/types";
import { operate } from "../operating/operate";
import { keysOf } from "../store/keys";
import { useMoment } from "../store/moment";
import { useVersion } from "../store/samples";
import { send } from "../store/sending";
import { poseOf, type Touched } from "../store/unsaved";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { ColourField } from "../ui/colour-field";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { frameSelected, removeSelected } from "../verbs/things";
import { fieldOf } from "./channel-field";
import { HideButton } from "./hide-button";
import { KeyTable } from "./key-table";
import { MoverParts } from "./mover-parts";
import { Section } from "./section";

/** A mover: it stands where it is put, moves by keys that are set on purpose, rides on another one, turns on a hinge. */
export function MoverCard({ mover }: { mover: Mover }) {
  const stage = useMoment((s) => s.stage);
  useVersion(mover.id);
  const specs = catalogue.channels.mover;
  const pose = poseOf(mover.id, stage);
  const keys = keysOf(mover);
  const here = keys.some((k) => k.frame === stage);
  const put = (touched: Touched, keep: "key" | "pose" | "rest", at?: number) =>
    send({ kind: "thing.put", thing: mover.id, frame: stage, keep, ...touched }, at);
  return (
    <div data-testid="mover-card">
      <div className="border-b border-line px-3 py-2.5">
        <TextField
          names
          label="Name"
          value={mover.name}
          onSet={(name, at) => send({ kind: "mover.set", mover: mover.id, name }, at)}
        />
        <div className="mt-2 flex gap-1">
          <Button tip="Frame in the rover's view" hint="F" onClick={frameSelected}>
            Frame
          </Button>
          <Button
            tip="Drive it by hand while the stage plays, and record it"
            hint="Shift O"
            onClick={() => operate({ table: "movers", id: mover.id })}
          >
            <CircleDot size={14} /> Drive
          </Button>
          <HideButton things={[mover]} />
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
            disabled={here && keys.some((k) => k.frame === stage && k.channels.length === POSE.length)}
            onClick={async () => complain(await send({ kind: "keys.here", thing: mover.id, frame: stage }))}
          >
            <Diamond size={13} fill={here ? "currentColor" : "none"} /> {here ? `Key ${stage}` : "Set key"}
          </Button>
        }
      >
        {pose &&
          POSE.map((name) => (
            <NumberField
              key={name}
              {...fieldOf(specs, name)}
              value={pose[name]}
              onSet={(v, at) => put({ [name]: v }, here ? "key" : "rest", at)}
              remedy={(problem, v) =>
                problem.field === "pose"
                  ? { label: `Set a key at ${stage}`, act: () => put({ [name]: v }, "pose") }
                  : null
              }
            />
          ))}
      </Section>
      <MoverParts mover={mover} />
      <Section title="Keys">
        {keys.length === 0 ? (
          <p className="text-sm text-faint">No keys.</p>
        ) : (
          <KeyTable thing={mover.id} keys={keys} stage={stage} group="all" />
        )}
      </Section>
    </div>
  );
}
