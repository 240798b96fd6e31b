import { useQuery } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import { catalogue } from "../api/catalogue";
import { keptPoses } from "../api/queries";
import type { Act, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { samplesOf, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, scrubStage, useView } from "../store/view";
import { focusName } from "../store/words";
import { Button } from "../ui/button";
import { Menu, MenuItem } from "../ui/menu";
import { actLabel, type Lane, laneOf, selectActs } from "../verbs/acts";
import { BEGINS, beginAct, LANE_NAMES, playTrial, stopTrial } from "../verbs/begin-act";
import { newId } from "../verbs/new-id";
import { pickLook } from "../verbs/rig";
import { ActFields, type Fact } from "./act-fields";
import { Section } from "./section";

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
        <span className="min-w-0 flex-1 truncate text-xs text-faint" title={said(fact) || undefined}>
          {what || said(fact)}
        </span>
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
    ? `${metres?.toFixed(1)} m · ${steps} steps of ${step_m?.toFixed(2)}`
    : degrees !== undefined
      ? `${Math.abs(degrees).toFixed(0)}° ${degrees > 0 ? "left" : "right"}`
      : "";

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
