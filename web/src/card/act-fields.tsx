import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Crosshair, Scissors, Trash2 } from "lucide-react";
import { useState } from "react";
import { keptPoses } from "../api/queries";
import type { Act, Channel, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { LINES, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { complain, useView } from "../store/view";
import { focusName } from "../store/words";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Menu, MenuItem } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import {
  type ActKind,
  copyActs,
  deleteActs,
  kindOf,
  selectActs,
  setAct,
  setsAct,
  splitActs,
} from "../verbs/acts";
import { choices, hang, isWord } from "../verbs/hanging";
import { forgetPose, keepPose } from "../verbs/poses";
import { pickLook } from "../verbs/rig";
import { KeyedNumber } from "./keyed-number";

export type Fact = {
  metres?: number;
  speed?: number;
  steps?: number;
  step_m?: number;
  degrees?: number;
  blend_in?: number;
};
/** More numbers than this are not all shown at once. */
const MANY = 12;

/** All that can be set of an act, as its kind has it. */
export function ActFields({
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
  useVersion(LINES);
  const hangs = choices(act.frames.first, act.bound);
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
            Drag the yellow handles in the picture or on an elevation, or set numbers.
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
      {hangs.any && (
        <div className="col-span-2">
          <Choice
            label="Hangs on"
            value={hangs.value}
            options={hangs.options}
            onSet={(value) => {
              const to = hangs.pick(value);
              void hang({ acts: [[figure.id, act.id as string]] }, to && isWord(to) ? to : null);
            }}
          />
        </div>
      )}
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
