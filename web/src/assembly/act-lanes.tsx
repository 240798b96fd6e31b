import { Fragment, type KeyboardEvent } from "react";
import type { Act, Command, Figure } from "../api/types";
import { useDocument } from "../store/document";
import { channelsOf } from "../store/keys";
import { rate, useMoment } from "../store/moment";
import { samplesOf, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, useView } from "../store/view";
import { focusName } from "../store/words";
import type { Hand } from "../ui/hold";
import { nudge } from "../ui/nudge";
import { type Along, type FrameHeld, useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import {
  actLabel,
  copyActs,
  deleteActs,
  type Lane as LaneName,
  laneOf,
  movesActs,
  selectActs,
  sendEnd,
  splitActs,
  trimsAct,
} from "../verbs/acts";
import { goesWith } from "../verbs/hanging";
import { Hook } from "./hook";
import { KeyDiamonds, trying } from "./lane-marks";
import { wordSpots } from "./snaps";

/** How near an end comes to something before it is held there, pixels. */
const HOLDS = 5;
const stage = () => useMoment.getState().stage;

/** First frames at which something begins: cues, ends of other acts, the playhead, cuts. */
function beginnings(act: Act): number[] {
  const { scene } = useDocument.getState();
  if (!scene) return [];
  const others = scene.figures.flatMap((f) => f.acts).filter((one) => one.id !== act.id);
  return [
    stage(),
    scene.frames.first,
    scene.frames.last + 1,
    ...scene.cues.map((cue) => cue.frame),
    ...wordSpots().map((spot) => spot.at),
    ...others.flatMap(({ frames }) => [frames.first, frames.last + 1]),
    ...scene.shots.flatMap((shot) => [shot.stage.first, shot.stage.last + 1]),
  ];
}

/** So many frames, or as many as bring one of some ends to where something begins; Ctrl goes freely. */
function snapped(by: number, ends: number[], to: number[], along: Along, hand: Hand): number {
  if (hand.ctrl) return by;
  const tries = ends.flatMap((end) => to.map((frame) => frame - end)).filter((n) => n !== 0);
  const near = tries.filter((n) => Math.abs(n - by) * along.ppf <= HOLDS);
  return near.sort((a, b) => Math.abs(a - by) - Math.abs(b - by))[0] ?? by;
}

interface Blends {
  blend_in?: number;
  blend_out?: number;
}

export function ActBlock({ figure, act }: { figure: Figure; act: Act }) {
  const along = useAlong();
  const hold = useFrameHold();
  const id = act.id as string;
  const chosen = useView((s) => s.ids[0] === figure.id && s.acts.includes(id));
  const scene = useDocument((s) => s.shown);
  useVersion(figure.id);
  const { first, last } = act.frames;
  if (!visible(along, first, last)) return null;
  const blends = ((samplesOf(figure.id)?.facts.acts ?? {}) as Record<string, Blends>)[id] ?? {};
  const width = Math.max((last - first + 1) * along.ppf - 1, 2);
  const into = Math.min((blends.blend_in ?? 0) * along.ppf, width);
  const pace = [act.speed !== 1 && `×${act.speed.toFixed(2)}`, act.repeat > 1 && `${act.repeat} times`];
  const says = [actLabel(act), "at" in act && act.at && scene && focusName(scene, act.at), ...pace]
    .filter(Boolean)
    .join(" · ");

  const hangs = goesWith(first, act.bound);
  const press = (shift: boolean) => {
    const { acts, ids } = useView.getState();
    const others = ids[0] === figure.id ? acts.filter((one) => one !== id) : [];
    if (!shift) selectActs(figure.id, [id]);
    else selectActs(figure.id, chosen ? others : [...others, id]);
  };
  const keep = (command: Command) => sendEnd(figure, act, command);
  const carried = (): FrameHeld => {
    const { acts, ids } = useView.getState();
    const all = chosen && ids[0] === figure.id ? acts : [id];
    if (!chosen) selectActs(figure.id, [id]);
    const to = beginnings(act);
    const by = (n: number, hand: Hand) => snapped(n, [first, last + 1], to, along, hand);
    return trying(
      (n, hand) => movesActs(figure.id, all, by(n, hand)),
      (hand) => press(hand.shift),
      all.length === 1 ? keep : undefined,
    );
  };
  const edge = (end: "first" | "last") =>
    hold(() => {
      if (!chosen) selectActs(figure.id, [id]);
      const to = beginnings(act);
      const at = end === "first" ? first : last + 1;
      const room = end === "first" ? [-first, last - first] : [first - last, 1e6];
      const command = (n: number, hand: Hand) => {
        const by = Math.min(Math.max(snapped(n, [at], to, along, hand), room[0]), room[1]);
        return trimsAct(figure.id, act, end, by, hand.alt);
      };
      return trying(command, undefined, end === "last" ? keep : undefined);
    });
  return (
    <div className="absolute top-0.5 bottom-0.5" style={{ left: xOf(along, first), width }}>
      <button
        type="button"
        data-act={id}
        aria-label={`${figure.name}: ${says}, ${act.frames.first} to ${act.frames.last}`}
        aria-pressed={chosen}
        className="absolute inset-0 flex cursor-grab items-center overflow-hidden rounded-[3px] px-1.5 text-left text-xs leading-none whitespace-nowrap text-white"
        style={{
          background: figure.look.coat,
          // What it comes in over is seen through its slanting edge.
          clipPath: into > 1 ? `polygon(0 100%, ${into}px 0, 100% 0, 100% 100%)` : undefined,
          paddingLeft: Math.max(6, into * 0.8),
          boxShadow: chosen ? "inset 0 0 0 2px var(--ochre)" : "inset 0 0 0 1px rgb(255 255 255 / 0.45)",
        }}
        title={`${figure.name}: ${says} (${act.frames.first}–${act.frames.last})${hangs ? `, hangs on ${hangs}` : ""}. Drag to move, drag an end to trim, with Alt to stretch; Ctrl without snapping.`}
        onKeyDown={(e) => actKey(e, figure, act)}
        {...hold(carried)}
      >
        {hangs && <Hook />}
        <span className="overflow-hidden text-ellipsis">{says}</span>
      </button>
      {into > 1 && (
        <svg
          aria-hidden="true"
          className="pointer-events-none absolute inset-y-0 left-0 h-full overflow-visible"
          width={into}
        >
          <line x1={0} y1="100%" x2={into} y2={0} stroke="white" strokeWidth={2} />
        </svg>
      )}
      <div className="absolute inset-y-0 left-0 w-1.5 cursor-w-resize" {...edge("first")} />
      <div className="absolute inset-y-0 right-0 w-1.5 cursor-e-resize" {...edge("last")} />
    </div>
  );
}

/** The keyboard on an act: moved by frames, its ends with Alt, deleted, duplicated, split. */
function actKey(e: KeyboardEvent, figure: Figure, act: Act): void {
  const id = act.id as string;
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const ctrl = e.ctrlKey || e.metaKey;
  const mine = () => {
    e.preventDefault();
    e.stopPropagation();
    const { acts, ids } = useView.getState();
    if (ids[0] !== figure.id || !acts.includes(id)) selectActs(figure.id, [id]);
  };
  if (e.key === "Delete" || e.key === "Backspace") {
    mine();
    void deleteActs();
  } else if (ctrl && e.key.toLowerCase() === "d") {
    mine();
    void copyActs();
  } else if (e.key === "/") {
    mine();
    void splitActs();
  } else if (e.key === "Enter" || e.key === " ") {
    mine();
  } else if (by && !ctrl) {
    mine();
    const far = by * (e.shiftKey ? Math.round(rate()) : 1);
    const { acts } = useView.getState();
    void nudge(`${figure.id} ${e.altKey ? `end of ${id}` : acts.join()}`, [far], async ([sum]) => {
      const now = useDocument
        .getState()
        .scene?.figures.find((f) => f.id === figure.id)
        ?.acts.find((one) => one.id === id);
      if (!now) return false;
      const command = e.altKey
        ? trimsAct(figure.id, now, "last", sum, false)
        : movesActs(figure.id, acts, sum);
      return complain(await send(command));
    });
  }
}

/** What somebody else hands to a figure, on its lane for hands: pressed, the act that does it is selected. */
function Received({ figure }: { figure: Figure }) {
  const along = useAlong();
  const scene = useDocument((s) => s.shown);
  const given = (scene?.figures ?? []).flatMap((by) =>
    by.acts.flatMap((act) => (act.kind === "hand_over" && act.to === figure.id ? [{ by, act }] : [])),
  );
  return given
    .filter(({ act }) => visible(along, act.frames.first, act.frames.last))
    .map(({ by, act }) => {
      const what = scene?.movers.find((one) => one.id === act.what)?.name ?? "it";
      return (
        <button
          type="button"
          key={by.id + act.id}
          className="absolute top-0.5 bottom-0.5 overflow-hidden rounded-[3px] border border-dashed px-1.5 text-left text-xs leading-none whitespace-nowrap"
          style={{
            left: xOf(along, act.frames.first),
            width: Math.max((act.frames.last - act.frames.first + 1) * along.ppf - 1, 2),
            borderColor: by.look.coat,
          }}
          title={`${by.name} hands ${what} to ${figure.name}: press to select that act`}
          onClick={() => selectActs(by.id, [act.id as string])}
        >
          Takes {what}
        </button>
      );
    });
}

/** The acts of one lane of a figure. */
export function LaneActs({ figure, lane }: { figure: Figure; lane: LaneName }) {
  const own = figure.acts
    .filter((act) => laneOf(act) === lane)
    .map((act) => (
      <Fragment key={act.id}>
        <ActBlock figure={figure} act={act} />
        <KeyDiamonds
          thing={figure}
          kind="figure"
          only={{
            names: channelsOf(act, `${act.id}.`).map(([name]) => name),
            chosen: () => selectActs(figure.id, [act.id as string]),
          }}
        />
      </Fragment>
    ));
  return (
    <>
      {lane === "hands" && <Received figure={figure} />}
      {own}
    </>
  );
}
