import { useQuery } from "@tanstack/react-query";
import { CircleDot, Copy, Trash2, Users } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { catalogue } from "../api/catalogue";
import { libraryFiles } from "../api/queries";
import type { Command, Does, Figure } from "../api/types";
import { operate } from "../operating/operate";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { LINES, pitchOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import type { Touched } from "../store/unsaved";
import { complain, select, useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { ColourField } from "../ui/colour-field";
import { fetched } from "../ui/fetched";
import { Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { giveCharacter, keep } from "../verbs/bringing";
import { duplicateSelected, frameSelected, removeSelected } from "../verbs/things";
import { HideButton } from "./hide-button";
import { Section } from "./section";

const FigureActs = lazy(() =>
  fetched(() => import("./figure-acts")).then((m) => ({ default: m.FigureActs })),
);

/** Everybody of a group. */
const grouped = (group: string) =>
  (useDocument.getState().scene?.figures ?? []).filter((one) => one.group === group).map((one) => one.id);

const plain = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

export function FigureCard({ figure }: { figure: Figure }) {
  const landmarks = catalogue.landmarks;
  const joint = useView((s) => s.joint);
  const stage = useMoment((s) => s.stage);
  useVersion(LINES);
  const set = (what: Partial<Omit<Does<"figure.set">, "kind" | "figure">>, at?: number) =>
    send({ kind: "figure.set", figure: figure.id, ...what }, at);
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
          <Crowd figure={figure} />
          <HideButton things={[figure]} />
          <Button tip="Take off the stage" hint="Delete" onClick={() => removeSelected()}>
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      <Suspense>
        <FigureActs figure={figure} />
      </Suspense>
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
      <Section title="Voice">
        <NumberField
          label="Voice pitch"
          value={figure.voice.pitch ?? pitchOf(figure.id)}
          unit="Hz"
          step={1}
          digits={0}
          onSet={(pitch, at) => set({ voice: { ...figure.voice, pitch } }, at)}
        />
        <NumberField
          label="Voice pace"
          value={figure.voice.pace}
          unit="wpm"
          step={5}
          digits={0}
          onSet={(pace, at) => set({ voice: { ...figure.voice, pace } }, at)}
        />
        {figure.voice.pitch != null && (
          <Button onClick={() => void set({ voice: { ...figure.voice, pitch: null } }).then(complain)}>
            Pitch by stature
          </Button>
        )}
      </Section>
      <Section title="Group">
        <TextField
          label="Group name; its lanes fold together"
          placeholder="none"
          value={figure.group}
          onSet={(group, at) => send({ kind: "figures.group", ids: [figure.id], group }, at)}
        />
        {figure.group && (
          <Button onClick={() => select("figure", grouped(figure.group))}>
            Select all of “{figure.group}”
          </Button>
        )}
      </Section>
      <Section title="Looks like">
        <Body figure={figure} />
        {figure.character ? null : <Dress figure={figure} />}
        <Button tip="For figures of any scene" onClick={() => keep([figure.id], "look")}>
          Keep this look in the library
        </Button>
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

/** What a lay figure wears. */
function Dress({ figure }: { figure: Figure }) {
  const look = async (change: Partial<Figure["look"]>) =>
    complain(await send({ kind: "figure.set", figure: figure.id, look: { ...figure.look, ...change } }));
  return (
    <>
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
    </>
  );
}

/** Whose body it has: a lay figure's, or that of a character in the library. */
function Body({ figure }: { figure: Figure }) {
  const { data } = useQuery(libraryFiles);
  const characters = data?.filter((one) => one.kind === "character" && one.here) ?? [];
  if (!characters.length && !figure.character) return null;
  const gone = figure.character && !characters.some((one) => one.key === figure.character);
  return (
    <Choice
      label="Body"
      value={figure.character ?? ""}
      options={[
        { value: "", label: "lay figure" },
        ...characters.map((one) => ({ value: one.key, label: one.name })),
        ...(gone ? [{ value: figure.character ?? "", label: "a character whose file is gone" }] : []),
      ]}
      onSet={async (key) => {
        const file = characters.find((one) => one.key === key);
        if (file) await giveCharacter(file, figure.id);
        else complain(await send({ kind: "character.leave", figure: figure.id }));
      }}
    />
  );
}

const WHERE = [
  { value: "rows", label: "in rows beside it" },
  { value: "along", label: "along a line I draw" },
  { value: "over", label: "over an area I draw" },
] as const;

/** Copies of a figure in rows, along a line or over an area, each a little different. */
function Crowd({ figure }: { figure: Figure }) {
  const [asked, setAsked] = useState({ count: 8, rows: 2, spacing: 0.9, seed: 1 });
  const [where, setWhere] = useState<(typeof WHERE)[number]["value"]>("rows");
  const number = (name: keyof typeof asked, label: string, unit: string, step: number, digits: number) => (
    <NumberField
      label={label}
      value={asked[name]}
      unit={unit}
      step={step}
      digits={digits}
      onSet={async (value) => {
        setAsked((was) => ({ ...was, [name]: digits === 0 ? Math.round(value) : value }));
        return null;
      }}
    />
  );
  return (
    <Popped
      label="Crowd"
      trigger={
        <Button tip="Copy into a crowd, each a little different">
          <Users size={14} />
        </Button>
      }
    >
      <div className="flex w-60 flex-col gap-1.5 p-1.5">
        {number("count", "How many", "", 1, 0)}
        <Choice label="Where they stand" value={where} options={[...WHERE]} onSet={setWhere} />
        {where === "rows" && number("rows", "Rows", "", 1, 0)}
        {where === "rows" && number("spacing", "Spacing", "m", 0.05, 2)}
        {number("seed", "Variation", "", 1, 0)}
        <Button
          onClick={async () => {
            if (where !== "rows")
              return useView.setState({
                tool: "crowd",
                crowd: { figure: figure.id, where, count: asked.count, seed: asked.seed },
              });
            complain(await send({ kind: "figure.crowd", figure: figure.id, ...asked }));
          }}
        >
          {where === "rows" ? "Make crowd" : "Draw on the plan"}
        </Button>
      </div>
    </Popped>
  );
}
