import { CircleDot, Copy, Plus, Trash2 } from "lucide-react";
import { catalogue } from "../api/catalogue";
import type { Act, Command, Does, Figure, Spot } from "../api/types";
import { operate } from "../operating/session";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { samplesOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import type { Touched } from "../store/unsaved";
import { complain, scrubStage, useView } from "../store/view";
import { focusName } from "../store/words";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { ColourField } from "../ui/colour-field";
import { Menu, MenuItem } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { duplicateSelected, frameSelected, removeSelected } from "../verbs/things";
import { Gazes } from "./figure-gazes";
import { Section } from "./section";

type Fact = { metres?: number; speed?: number; steps?: number; step_m?: number; degrees?: number };

const plain = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

export function FigureCard({ figure }: { figure: Figure }) {
  const landmarks = catalogue.landmarks;
  const joint = useView((s) => s.joint);
  const stage = useMoment((s) => s.stage);
  useVersion(figure.id);
  const facts = (samplesOf(figure.id)?.facts.acts ?? []) as Fact[];
  const set = (what: Partial<Omit<Does<"figure.set">, "kind" | "figure">>, at?: number) =>
    send({ kind: "figure.set", figure: figure.id, ...what }, at);
  const look = async (part: Partial<Figure["look"]>) =>
    complain(await set({ look: { ...figure.look, ...part } }));
  /** Where and how it starts; its acts go with it. */
  const starts = (what: Touched): Command => ({
    kind: "thing.put",
    thing: figure.id,
    frame: stage,
    keep: "rest",
    ...what,
  });
  const number = (label: string, name: "x" | "z" | "heading", unit: string, step: number, digits: number) => (
    <NumberField
      label={label}
      value={figure[name]}
      unit={unit}
      step={step}
      digits={digits}
      onTry={(v) => tryOut(starts({ [name === "heading" ? "pan" : name]: v }), stage)}
      onSet={(v, at) => {
        endTry();
        return send(starts({ [name === "heading" ? "pan" : name]: v }), at);
      }}
    />
  );
  return (
    <div data-testid="figure-card">
      <div className="border-b border-line px-3 py-2.5">
        <TextField names label="Name" value={figure.name} onSet={(name, at) => set({ name }, at)} />
        <div className="mt-2 flex gap-1">
          <Button tip="Frame in the rover's view" hint="F" onClick={frameSelected}>
            Frame
          </Button>
          <Button tip="Duplicate" hint="Ctrl D" onClick={duplicateSelected}>
            <Copy size={14} />
          </Button>
          <Button
            tip="Lead them by hand while the stage plays: they walk where you went"
            hint="Shift O"
            onClick={() => operate({ table: "figures", id: figure.id })}
          >
            <CircleDot size={14} /> Lead
          </Button>
          <Button tip="Take off the stage" hint="Delete" onClick={() => removeSelected()}>
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      <Section title="Starts">
        <NumberField
          label="Stature"
          value={figure.stature}
          unit="m"
          step={0.01}
          onSet={(stature, at) => set({ stature }, at)}
        />
        {number("Across", "x", "m", 0.01, 2)}
        {number("Along", "z", "m", 0.01, 2)}
        {number("Faces", "heading", "°", 1, 0)}
        <Choice
          label="When it has nothing to do"
          value={figure.idle}
          options={[
            { value: "stand", label: "stands" },
            { value: "talk", label: "talks" },
            { value: "point", label: "points ahead" },
          ]}
          onSet={async (idle) => complain(await set({ idle }))}
        />
      </Section>
      <Section title="Does" side={<AddAct figure={figure} />}>
        {figure.acts.length === 0 && (
          <p className="text-sm text-faint">
            Nothing yet. Choose Walk over the plan and click where it goes, or add something here.
          </p>
        )}
        {figure.acts.map((act, i) => (
          <ActRow key={i} figure={figure} act={act} index={i} fact={facts[i] ?? {}} />
        ))}
      </Section>
      <Gazes figure={figure} />
      <Section title="Looks like">
        <ColourField label="Coat" value={figure.look.coat} onSet={(coat) => look({ coat })} />
        <ColourField label="Trim" value={figure.look.trim} onSet={(trim) => look({ trim })} />
        <Choice
          label="Build"
          value={figure.look.build}
          options={plain(["slight", "middling", "broad"] as const)}
          onSet={(build) => look({ build })}
        />
        <Choice
          label="On the head"
          value={figure.look.headwear}
          options={plain(["none", "cap", "scarf", "bun"] as const)}
          onSet={(headwear) => look({ headwear })}
        />
        <Choice
          label="Wears"
          value={figure.look.garment}
          options={plain(["plain", "coat", "skirt"] as const)}
          onSet={(garment) => look({ garment })}
        />
        <Choice
          label="Holds"
          value={figure.holds}
          options={plain(["nothing", "oar"] as const)}
          onSet={async (holds) => complain(await send({ kind: "figure.set", figure: figure.id, holds }))}
        />
      </Section>
      <Section title="Mark a joint in the picture">
        <Choice
          label="Joint"
          value={joint ?? ""}
          options={[
            { value: "", label: "none" },
            ...landmarks
              .slice(0, 24)
              .map((l) => ({ value: l, label: l.replace("_r", " right").replace("_l", " left") })),
          ]}
          onSet={(value) => useView.setState({ joint: value || null })}
        />
      </Section>
    </div>
  );
}

function ActRow({ figure, act, index, fact }: { figure: Figure; act: Act; index: number; fact: Fact }) {
  const stage = useMoment((s) => s.stage);
  const on = act.frames.first <= stage && stage <= act.frames.last;
  const set = (next: Act, at?: number) =>
    send({ kind: "figure.act.set", figure: figure.id, index, act: next }, at);
  const frame = (end: "first" | "last") => (
    <NumberField
      label={end === "first" ? "From" : "To"}
      value={act.frames[end]}
      digits={0}
      step={1}
      unit="f"
      perSecond={rate()}
      onSet={(v, at) => set({ ...act, frames: { ...act.frames, [end]: Math.round(v) } }, at)}
    />
  );
  return (
    <div
      className={`rounded-[3px] border px-2 py-1.5 ${on ? "border-slate bg-slate-wash/50" : "border-line"}`}
    >
      <div className="mb-1 flex items-center gap-2 text-sm">
        <button
          type="button"
          className="font-semibold underline"
          onClick={() => scrubStage(act.frames.first)}
        >
          {act.kind}
        </button>
        <span className="flex-1 text-xs text-faint">
          {fact.speed !== undefined &&
            `${fact.metres?.toFixed(1)} m in ${fact.steps} steps of ${fact.step_m?.toFixed(2)} m`}
          {fact.degrees !== undefined &&
            `${Math.abs(fact.degrees).toFixed(0)}° ${fact.degrees > 0 ? "left" : "right"}`}
        </span>
        <button
          type="button"
          aria-label={`Delete ${act.kind} at ${act.frames.first}`}
          title="Delete"
          onClick={async () => complain(await send({ kind: "figure.act.delete", figure: figure.id, index }))}
        >
          <Trash2 size={13} />
        </button>
      </div>
      {frame("first")}
      {frame("last")}
      {act.kind === "walk" && fact.speed !== undefined && (
        <NumberField
          label="Speed"
          value={fact.speed}
          unit="m/s"
          step={0.02}
          onTry={(speed) => tryOut({ kind: "figure.pace", figure: figure.id, index, speed }, stage)}
          onSet={(speed, at) => {
            endTry();
            return send({ kind: "figure.pace", figure: figure.id, index, speed }, at);
          }}
        />
      )}
      {act.kind === "turn" && (
        <NumberField
          label="To face"
          value={act.heading}
          unit="°"
          step={1}
          digits={0}
          onSet={(heading, at) => set({ ...act, heading }, at)}
        />
      )}
      {act.kind === "point" && <PointsAt figure={figure} index={index} at={act.at} />}
    </div>
  );
}

/** What a figure points at: something, which the arm then follows, or a place. */
function PointsAt({ figure, index, at }: { figure: Figure; index: number; at: Spot }) {
  const set = (on: Spot | null, seen?: number) =>
    send({ kind: "figure.point", figure: figure.id, index, on, frame: useMoment.getState().stage }, seen);
  const scene = useDocument((s) => s.shown);
  if (!scene) return null;
  const targets: [string, Spot][] = [
    ...scene.figures
      .filter((f) => f.id !== figure.id)
      .map((f): [string, Spot] => [`${f.name}'s head`, { kind: "figure", figure: f.id, joint: "head" }]),
    ...scene.movers.map((m): [string, Spot] => [m.name, { kind: "mover", mover: m.id }]),
    ...scene.cameras.map((c): [string, Spot] => [`Camera ${c.letter}`, { kind: "camera", camera: c.id }]),
  ];
  const same = targets.findIndex(([, spot]) => JSON.stringify(spot) === JSON.stringify(at));
  const options = [
    { value: "place", label: "a place" },
    ...targets.map(([label], i) => ({ value: String(i), label })),
    ...(same < 0 && at.kind !== "point" ? [{ value: "other", label: focusName(scene, at) }] : []),
  ];
  return (
    <>
      <Choice
        label="At"
        value={at.kind === "point" ? "place" : same < 0 ? "other" : String(same)}
        options={options}
        onSet={async (value) => {
          if (value !== "other") complain(await set(value === "place" ? null : targets[Number(value)][1]));
        }}
      />
      {at.kind === "point" &&
        (["x", "y", "z"] as const).map((axis, i) => (
          <NumberField
            key={axis}
            label={["At across", "At height", "At along"][i]}
            value={at[axis]}
            unit="m"
            step={0.05}
            onSet={(v, seen) => set({ ...at, of: "", [axis]: v }, seen)}
          />
        ))}
    </>
  );
}

type Begun = Does<"figure.begin">["does"];
const BEGUN: [Begun, string, string][] = [
  ["talk", "Talk", "With its hands"],
  ["turn", "Turn", "To face another way"],
  ["point", "Point", "At a place, or at something it then follows"],
  ["stand", "Stand", "Whatever it does otherwise"],
];

function AddAct({ figure }: { figure: Figure }) {
  const begin = async (does: Begun) =>
    complain(
      await send({ kind: "figure.begin", figure: figure.id, does, frame: useMoment.getState().stage }),
    );
  return (
    <Menu
      trigger={
        <Button>
          <Plus size={13} /> Add at this frame
        </Button>
      }
    >
      {BEGUN.map(([does, label, note]) => (
        <MenuItem key={does} note={note} onSelect={() => begin(does)}>
          {label}
        </MenuItem>
      ))}
      <MenuItem note="Click points on the plan" onSelect={() => useView.setState({ tool: "walk" })}>
        Walk
      </MenuItem>
    </Menu>
  );
}
