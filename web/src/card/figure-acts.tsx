import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Crosshair, Plus, Scissors, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { catalogue } from "../api/catalogue";
import { keptPoses } from "../api/queries";
import type { Act, Channel, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { samplesOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { complain, scrubStage, useView } from "../store/view";
import { focusName } from "../store/words";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Menu, MenuItem } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import {
  type ActKind,
  actLabel,
  copyActs,
  deleteActs,
  kindOf,
  type Lane,
  laneOf,
  selectActs,
  setAct,
  setsAct,
  splitActs,
} from "../verbs/acts";
import { BEGINS, beginAct, LANE_NAMES, playTrial, stopTrial } from "../verbs/begin-act";
import { newId } from "../verbs/new-id";
import { forgetPose, keepPose } from "../verbs/poses";
import { pickLook } from "../verbs/rig";
import { KeyedNumber } from "./keyed-number";
import { Section } from "./section";

type Fact = {
  metres?: number;
  speed?: number;
  steps?: number;
  step_m?: number;
  degrees?: number;
  blend_in?: number;
};
type Facts = {
  acts?: Record<string, Fact>;
  missed?: Record<string, number>;
  keyed?: Record<string, number[]>;
};

/** What a figure does, lane by lane; what is selected, or else what is under way, is open to be changed. */
export function FigureActs({ figure }: { figure: Figure }) {
  const chosen = useView((s) => s.acts);
  const stage = useMoment((s) => s.stage);
  useVersion(figure.id);
  const facts = (samplesOf(figure.id)?.facts ?? {}) as Facts;
  const picking = useView((s) => s.picking === "look");
  const any = figure.acts.some((act) => act.id && chosen.includes(act.id));
  return (
    <Section
      title="Does"
      side={
        <span className="flex gap-1">
          <Button on={picking} tip="Point at what to look at" onClick={() => pickLook(figure.id)}>
            <Plus size={13} /> Look at…
          </Button>
          <AddAct figure={figure} />
        </span>
      }
    >
      {figure.acts.length === 0 && (
        <p className="text-sm text-faint">
          Nothing yet. Choose Walk over the plan and click where it goes, or add something here.
        </p>
      )}
      {catalogue.lanes.map((lane) => (
        <LaneRows key={lane} lane={lane}>
          {figure.acts
            .filter((act) => laneOf(act) === lane)
            .map((act) => {
              const under = act.frames.first <= stage && stage <= act.frames.last;
              const open = act.id !== null && (chosen.includes(act.id) || (!any && under));
              return <ActRow key={act.id} {...{ figure, act, under, open, facts }} />;
            })}
        </LaneRows>
      ))}
    </Section>
  );
}

function LaneRows({ lane, children }: { lane: Lane; children: React.ReactElement[] }) {
  if (children.length === 0) return null;
  return (
    <div className="flex flex-col gap-1" data-testid={`acts-${lane}`}>
      <h3 className="text-xs text-faint">{LANE_NAMES[lane]}</h3>
      {children}
    </div>
  );
}

interface Row {
  figure: Figure;
  act: Act;
  under: boolean;
  open: boolean;
  facts: Facts;
}

function ActRow({ figure, act, under, open, facts }: Row) {
  const scene = useDocument((s) => s.shown);
  const id = act.id as string;
  const fact = facts.acts?.[id] ?? {};
  const missed = facts.missed?.[id];
  const chosen = useView((s) => s.acts.includes(id));
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (chosen) row.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const named = act as { what?: string | null; to?: string | null };
  const item = (id: string | null | undefined) =>
    [...(scene?.movers ?? []), ...(scene?.figures ?? [])].find((one) => one.id === id)?.name;
  const given = [item(named.what), item(named.to)].filter(Boolean).join(" to ");
  const what = given || ("at" in act && act.at && scene ? focusName(scene, act.at) : "");
  return (
    <div
      ref={row}
      data-testid="act"
      className={`rounded-[3px] border px-2 py-1 ${under ? "border-slate bg-slate-wash/50" : "border-line"}`}
    >
      <div className="flex items-center gap-1.5 text-sm">
        <button
          type="button"
          className="font-semibold underline"
          aria-expanded={open}
          title="Select it and go to its first frame"
          onClick={() => {
            selectActs(figure.id, [id]);
            scrubStage(act.frames.first);
          }}
        >
          {actLabel(act)}
        </button>
        <span className="min-w-0 flex-1 truncate text-xs text-faint">{what || said(fact)}</span>
        <span className="num text-xs text-faint">
          {act.frames.first}–{act.frames.last}
        </span>
        <button
          type="button"
          aria-label={`Delete ${actLabel(act).toLowerCase()} at ${act.frames.first}`}
          title="Delete"
          onClick={async () =>
            complain(await send({ kind: "figure.act.delete", figure: figure.id, ids: [id] }))
          }
        >
          <Trash2 size={13} />
        </button>
      </div>
      {missed !== undefined && (
        <p className="text-xs text-brick">
          <button type="button" className="font-semibold underline" onClick={() => scrubStage(missed)}>
            {missed}
          </button>
          {act.kind === "look_at" ? ": farther round than head and eyes can turn" : ": out of reach"}
        </p>
      )}
      {open && <ActFields figure={figure} act={act} fact={fact} keyed={facts.keyed ?? {}} />}
    </div>
  );
}

const said = ({ metres, speed, steps, step_m, degrees }: Fact): string =>
  speed !== undefined
    ? `${metres?.toFixed(1)} m in ${steps} steps of ${step_m?.toFixed(2)} m`
    : degrees !== undefined
      ? `${Math.abs(degrees).toFixed(0)}° ${degrees > 0 ? "left" : "right"}`
      : "";

/** More numbers than this are not all shown at once. */
const MANY = 12;

/** All that can be set of an act, as its kind has it. */
function ActFields({
  figure,
  act,
  fact,
  keyed,
}: {
  figure: Figure;
  act: Act;
  fact: Fact;
  keyed: Record<string, number[]>;
}) {
  const first = useDocument((s) => s.scene?.frames.first) ?? 0;
  const stage = useMoment((s) => s.stage);
  const kind = kindOf(act);
  const [all, setAll] = useState(false);
  const own = act as unknown as Record<string, number & string>;
  const number = (name: string, label: string, unit: string, step: number, digits: number) => (
    <NumberField
      key={name}
      compact
      label={label}
      value={own[name]}
      unit={unit}
      step={step}
      digits={digits}
      onTry={(v) => tryOut(setsAct(figure.id, act, { [name]: v }), stage)}
      onSet={(v, at) => setAct(figure.id, act, { [name]: digits === 0 ? Math.round(v) : v }, at)}
    />
  );
  // Of many numbers those that do something are shown.
  const folds = kind.numbers.length > MANY;
  const numbers = kind.numbers.filter(({ name, default: usual }) => {
    const channel = own[name] as unknown as Channel | number;
    const still = typeof channel === "object" ? !channel.keys.length && channel.rest === usual : false;
    return !folds || all || !still;
  });
  return (
    <div className="mt-1 grid grid-cols-2 gap-x-2 gap-y-1">
      {act.kind === "pose" && (
        <div className="col-span-2 flex flex-col gap-1">
          <p className="text-xs text-faint">
            Drag the yellow handles in the rover's picture or on an elevation, or set numbers.
          </p>
          <TextField
            label="Pose name"
            placeholder="Name it to keep it"
            value={act.name}
            onSet={(name, at) => setAct(figure.id, act, { name }, at)}
          />
        </div>
      )}
      {(["first", "last"] as const).map((end) => (
        <NumberField
          key={end}
          compact
          label={end === "first" ? "From" : "To"}
          value={act.frames[end]}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={(v, at) => setAct(figure.id, act, { frames: { ...act.frames, [end]: Math.round(v) } }, at)}
        />
      ))}
      {fact.speed !== undefined && (
        <div className="col-span-2">
          <NumberField
            compact
            label="Speed"
            value={fact.speed}
            unit="m/s"
            step={0.02}
            onTry={(speed) => tryOut({ kind: "figure.pace", figure: figure.id, id: act.id, speed }, stage)}
            onSet={(speed, at) => {
              endTry();
              return send({ kind: "figure.pace", figure: figure.id, id: act.id, speed }, at);
            }}
          />
        </div>
      )}
      {act.kind === "turn" && number("heading", "To face", "°", 1, 0)}
      {numbers.map(({ name, label, unit, most }) => {
        const digits = unit === "turns" ? 0 : most > 30 ? 1 : 2;
        const step = digits === 2 ? 0.01 : 1;
        const channel = own[name] as unknown as Channel | number;
        const values = keyed[`${act.id}.${name}`];
        return (
          <div key={name} className={label.length > 5 || typeof channel === "object" ? "col-span-2" : ""}>
            {typeof channel === "object" ? (
              <KeyedNumber
                compact
                thing={figure.id}
                channel={`${act.id}.${name}`}
                field={{ label, unit, front: undefined, step, digits }}
                value={values?.[values.length > 1 ? stage - first : 0] ?? channel.rest}
                keys={channel.keys}
                stage={stage}
              />
            ) : (
              number(name, label, unit, step, digits)
            )}
          </div>
        );
      })}
      {folds && (
        <button
          type="button"
          className="col-span-2 self-start text-left text-xs underline"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all ? "Only the numbers that are set" : `All ${kind.numbers.length} numbers`}
        </button>
      )}
      {kind.timed && (
        <>
          {number("speed", "Pace", "×", 0.01, 2)}
          {number("slip", "Slip", "f", 1, 0)}
          {number("repeat", "Times", "×", 1, 0)}
          <Tick on={act.hold} onSet={async (hold) => complain(await setAct(figure.id, act, { hold }))}>
            Hold the last pose
          </Tick>
        </>
      )}
      <div className="col-span-2 flex flex-col gap-1">
        {Object.entries(kind.flags).map(([name, label]) => (
          <Tick
            key={name}
            on={own[name] as unknown as boolean}
            onSet={async (on) => complain(await setAct(figure.id, act, { [name]: on }))}
          >
            {label}
          </Tick>
        ))}
        {Object.entries(kind.names).map(([name, table]) => (
          <Named key={name} {...{ figure, act, name, table }} />
        ))}
        {Object.entries(kind.choices).map(([name, words]) => (
          <Choice
            key={name}
            label={name[0].toUpperCase() + name.slice(1)}
            value={own[name] as string}
            options={words.map((value) => ({ value, label: value }))}
            onSet={async (value) => complain(await setAct(figure.id, act, { [name]: value }))}
          />
        ))}
        {(fact.blend_in ?? 0) > 0 && (
          <Choice
            label={`Blends in over ${fact.blend_in} f`}
            value={act.shape}
            options={["soft", "even", "early", "late"].map((value) => ({ value, label: value }))}
            onSet={async (shape) => complain(await setAct(figure.id, act, { shape }))}
          />
        )}
        {(kind.at || kind.names.on) && <GoesBy figure={figure} act={act} />}
        <span className="flex gap-1">
          <Button tip="Copy it behind itself" hint="Ctrl D" onClick={() => only(figure, act, copyActs)}>
            <Copy size={13} />
          </Button>
          <Button tip="Split at the playhead" hint="/" onClick={() => only(figure, act, splitActs)}>
            <Scissors size={13} />
          </Button>
          <Button tip="Delete" hint="Delete" onClick={() => only(figure, act, deleteActs)}>
            <Trash2 size={13} />
          </Button>
          {(act.kind === "walk" || act.kind === "run") && (
            <Button
              tip="Go the shortest way that keeps clear of the set"
              onClick={async () =>
                complain(await send({ kind: "figure.walk.round", figure: figure.id, id: act.id as string }))
              }
            >
              Go round
            </Button>
          )}
          {act.kind === "pose" && act.name && <KeptPose figure={figure} act={act} stage={stage} />}
          {act.kind === "pose" && (
            <Button
              tip="Change right and left over"
              onClick={async () =>
                complain(await send({ kind: "figure.pose.mirror", figure: figure.id, id: act.id as string }))
              }
            >
              Mirror
            </Button>
          )}
          <CopyTo figure={figure} act={act} />
        </span>
      </div>
    </div>
  );
}

/** Keeps a pose for every scene, and removes it from that list again. */
function KeptPose({
  figure,
  act,
  stage,
}: {
  figure: Figure;
  act: Extract<Act, { kind: "pose" }>;
  stage: number;
}) {
  const again = useQueryClient();
  const { data: kept = [] } = useQuery(keptPoses);
  const known = kept.find((one) => one.name === act.name);
  const after = (done: boolean) => done && void again.invalidateQueries(keptPoses);
  return (
    <>
      <Button
        tip={`Keep it for every scene, as it is at ${stage}`}
        onClick={async () => after(await keepPose(figure.id, act.id as string, act.name))}
      >
        Keep
      </Button>
      {known && (
        <Button
          tip="Remove it from the kept poses"
          onClick={async () => after(await forgetPose(known.id, known.name))}
        >
          Remove
        </Button>
      )}
    </>
  );
}

/** A verb on the selected acts, for one of them. */
function only(figure: Figure, act: Act, verb: () => Promise<boolean>): void {
  selectActs(figure.id, [act.id as string]);
  void verb();
}

function CopyTo({ figure, act }: { figure: Figure; act: Act }) {
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const others = figures.filter((one) => one.id !== figure.id);
  if (others.length === 0) return null;
  return (
    <Menu trigger={<Button>Copy to…</Button>}>
      {others.map((one) => (
        <MenuItem
          key={one.id}
          onSelect={() => {
            selectActs(figure.id, [act.id as string]);
            void copyActs(one.id);
          }}
        >
          {one.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** What an act goes by: what is looked at, pointed at, reached for or sat on; a place can be typed. */
function GoesBy({ figure, act }: { figure: Figure; act: Act }) {
  const scene = useDocument((s) => s.shown);
  const picking = useView((s) => s.pickedFor && "figure" in s.pickedFor && s.pickedFor.act === act.id);
  if (!scene) return null;
  const at = "at" in act ? act.at : null;
  return (
    <>
      <div className="flex items-center gap-1.5 text-sm">
        <span className="min-w-0 flex-1 truncate">{at ? focusName(scene, at) : ""}</span>
        <Button on={picking === true} onClick={() => pickLook(figure.id, act.id)}>
          <Crosshair size={13} /> Point at…
        </Button>
      </div>
      {at?.kind === "point" && (
        <div className="grid grid-cols-3 gap-1">
          {(["x", "y", "z"] as const).map((axis, i) => (
            <NumberField
              key={axis}
              compact
              label={["Across", "Height", "Along"][i]}
              value={at[axis]}
              unit="m"
              step={0.05}
              onSet={(v, seen) => setAct(figure.id, act, { at: { ...at, of: "", [axis]: v } }, seen)}
            />
          ))}
        </div>
      )}
    </>
  );
}

const NAMED = { what: "What", to: "To", on: "On" } as Record<string, string>;

/** Something on the stage that an act names, chosen from what there is. */
function Named({
  figure,
  act,
  name,
  table,
}: {
  figure: Figure;
  act: Act;
  name: string;
  table: ActKind["names"][string];
}) {
  const scene = useDocument((s) => s.shown);
  if (!scene) return null;
  const there = scene[table].filter((one) => one.id !== figure.id) as { id: string; name: string }[];
  const value = (act as unknown as Record<string, string | null>)[name] ?? "";
  return (
    <Choice
      label={NAMED[name] ?? name}
      value={value}
      options={[
        ...(value ? [] : [{ value: "", label: "nothing" }]),
        ...there.map((one) => ({ value: one.id, label: one.name })),
      ]}
      onSet={async (id) => complain(await setAct(figure.id, act, { [name]: id || null }))}
    />
  );
}

function AddAct({ figure }: { figure: Figure }) {
  const { data: kept = [] } = useQuery(keptPoses);
  return (
    <Menu
      onClose={stopTrial}
      trigger={
        <Button>
          <Plus size={13} /> Add
        </Button>
      }
    >
      <MenuItem
        note="Click points on the plan"
        onPoint={stopTrial}
        onSelect={() => useView.setState({ tool: "walk" })}
      >
        Walk
      </MenuItem>
      {kept.map((pose) => (
        <MenuItem
          key={pose.id}
          onPoint={stopTrial}
          onSelect={async () => {
            const id = newId("act");
            const { name, numbers, stature } = pose;
            const put = {
              kind: "figure.pose.put" as const,
              figure: figure.id,
              id,
              frame: useMoment.getState().stage,
            };
            if (complain(await send({ ...put, name, numbers, stature }))) selectActs(figure.id, [id]);
          }}
        >
          <span className="flex justify-between gap-6">
            {pose.name}
            <span className="text-xs text-faint">Kept pose</span>
          </span>
        </MenuItem>
      ))}
      {BEGINS.map((begin) => (
        <MenuItem
          key={begin.lane + begin.label}
          onPoint={() => playTrial(figure.id, begin)}
          onSelect={() => beginAct(figure.id, begin)}
        >
          <span className="flex justify-between gap-6">
            {begin.label}
            <span className="text-xs text-faint">{LANE_NAMES[begin.lane]}</span>
          </span>
        </MenuItem>
      ))}
    </Menu>
  );
}
