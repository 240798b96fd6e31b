import { X } from "lucide-react";
import { useState } from "react";
import { showTimecode } from "../api/samples";
import type { Shot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { hue } from "../store/hues";
import { pause, rate, useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { CUT, cutTable, placedShots, useVersion } from "../store/samples";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, type Edge, scrubCut, select, useView } from "../store/view";
import { Letter } from "../ui/badge";
import type { Hand } from "../ui/hold";
import { Lane, RuledStrip, useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import { slipBy, trimBy } from "../verbs/cutting";
import { CutCues } from "./cues";

const across = (edge: "first" | "last") => (edge === "last" ? "first" : "last");

/** The shot on the other side of the cut at an edge; none where there is black, or nothing. */
function joined(shot: Shot, edge: "first" | "last", order: Placed[]): Shot | null {
  const shots = useDocument.getState().scene?.shots ?? [];
  const at = order.findIndex((p) => p.id === shot.id);
  const next = shots.find((s) => s.id === order[at + (edge === "last" ? 1 : -1)]?.id);
  const gap = (edge === "last" ? next?.gap_before : shot.gap_before) ?? 0;
  return next && gap === 0 ? next : null;
}

/** The frames at the edge that is trimmed: at a joint the outgoing one and the incoming one, else the one at the edge. */
function edgesAt(
  shot: Shot,
  range: { first: number; last: number },
  edge: "first" | "last",
  next: Shot | null,
  /** How far the other side of the cut goes along. */
  by: number,
): Edge[] {
  const own: Edge = { shot: shot.name, camera: shot.camera, frame: range[edge], side: edge };
  if (!next) return [own];
  const side = across(edge);
  const other: Edge = { shot: next.name, camera: next.camera, frame: next.stage[side] + by, side };
  return edge === "last" ? [own, other] : [other, own];
}

/** The keyboard on a shot: along the shots, its ends, and its place in the cut. */
function shotKey(e: React.KeyboardEvent, shot: Shot, order: Placed[]): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const at = order.findIndex((p) => p.id === shot.id);
  const shots = useDocument.getState().scene?.shots ?? [];
  const end = { Home: order[0], End: order.at(-1) }[e.key];
  const slips = e.ctrlKey || e.metaKey ? undefined : { a: -1, d: 1 }[e.key.toLowerCase()];
  if (e.key === "Enter" || e.key === " ") select("shot", [shot.id]);
  else if (end) goTo(shots.find((s) => s.id === end.id));
  else if (slips)
    void slipBy(shot.id, e.altKey ? "slide" : "slip", slips * (e.shiftKey ? Math.round(rate()) : 1));
  else if (!by) return;
  else if (e.shiftKey) void trimBy(shot.id, "last", by, e.altKey);
  else if (e.altKey) void trimBy(shot.id, "first", by);
  else if (e.ctrlKey || e.metaKey) {
    const others = order.filter((p) => p.id !== shot.id);
    const before = others[at + by]?.id ?? null;
    if (at + by >= 0 && at + by < order.length)
      void send({ kind: "shot.move", shot: shot.id, before }).then(complain);
  } else {
    goTo(shots.find((s) => s.id === order[at + by]?.id));
  }
  e.preventDefault();
}

/** Select a shot, and have the keyboard on it. */
function goTo(shot: Shot | undefined): void {
  if (!shot) return;
  select("shot", [shot.id]);
  document.querySelector<HTMLElement>(`[data-shot="${CSS.escape(shot.name)}"]`)?.focus();
}

const TRIM =
  "Drag to trim: the rest of the cut follows. Alt leaves it where it is; Shift rolls the cut, so that the shot beside it gives or takes the frames.";

type Placed = { id: string; cut_first: number; cut_last: number; step?: number | null };

function ShotBlock({
  shot,
  placed,
  order,
  low,
  stop,
  onCarry,
}: {
  shot: Shot;
  /** The one of the shots that Tab comes to. */
  stop: boolean;
  placed: Placed;
  order: Placed[];
  /** All on one line. */
  low: boolean;
  onCarry: (x: number | null) => void;
}) {
  const along = useAlong();
  const camera = useDocument((s) => itemOf(s.shown, "cameras", shot.camera));
  const selected = useView((s) => s.kind === "shot" && s.ids.includes(shot.id));
  const [says, setSays] = useState<string | null>(null);
  const length = placed.cut_last - placed.cut_first + 1;
  const width = length * along.ppf;
  const colour = hue(camera?.letter ?? "A");
  const hold = useFrameHold();
  const frames = useDocument((s) => s.scene?.frames) ?? shot.stage;

  const trim = (edge: "first" | "last") =>
    hold(() => {
      const was = shot.stage;
      const next = joined(shot, edge, order);
      // It stops at one frame, and at the ends of the stage.
      const room = (stage: Shot["stage"], at: "first" | "last") =>
        at === "first"
          ? [frames.first - stage.first, stage.last - stage.first]
          : [stage.first - stage.last, frames.last - stage.last];
      const own = room(was, edge);
      const both = next ? [own, room(next.stage, across(edge))] : [own];
      // A cue near the edge holds it: the new first frame is on it, or the last one just before it.
      const cues = useDocument.getState().scene?.cues ?? [];
      const at = (frame: number) => frame - (edge === "last" ? 1 : 0) - was[edge];
      const snapped = (by: number) =>
        cues.map((cue) => at(cue.frame)).find((to) => Math.abs(to - by) * along.ppf <= 5) ?? by;
      const within = (by: number, hand: Hand) =>
        (hand.shift ? both : [own]).reduce(
          (to, [least, most]) => Math.min(Math.max(to, least), most),
          snapped(by),
        );
      const command = (by: number, hand: Hand) => ({
        kind: "shot.trim" as const,
        shot: shot.id,
        [edge]: was[edge] + by,
        ripple: !hand.alt,
        roll: hand.shift,
      });
      select("shot", [shot.id]);
      pause();
      const over = () => {
        setSays(null);
        useView.setState({ edges: null });
        endTry();
      };
      const cancel = () => {
        over();
        dropOverlay();
      };
      return {
        move: (asked, hand) => {
          const by = within(asked, hand);
          const range = { ...was, [edge]: was[edge] + by };
          const length = range.last - range.first + 1;
          setSays(`${range.first}–${range.last}, ${length} f`);
          useView.setState({ edges: edgesAt(shot, range, edge, next, hand.shift ? by : 0) });
          tryOut(command(by, hand), useMoment.getState().stage);
        },
        drop: async (asked, hand) => {
          const by = asked && within(asked, hand);
          if (!by) return cancel();
          over();
          complain(await send(command(by, hand)));
        },
        cancel,
      };
    });

  /** What it shows goes earlier or later in place, or it goes along the cut between its neighbours. */
  const within = (edit: "slip" | "slide") => {
    const command = (by: number) => ({ kind: "cut.edit" as const, do: { edit, shots: [shot.id], by } });
    const at = order.findIndex((p) => p.id === shot.id);
    const shots = useDocument.getState().scene?.shots ?? [];
    const beside = (i: number) => shots.find((s) => s.id === order[i]?.id);
    /** Frames at its two ends as it slips, or of its neighbours as it slides. */
    const ends = (by: number): Edge[] => {
      const own = (side: "first" | "last"): Edge => ({
        shot: shot.name,
        camera: shot.camera,
        frame: shot.stage[side] + by,
        side,
      });
      if (edit === "slip") return [own("first"), own("last")];
      const [before, after] = [beside(at - 1), beside(at + 1)];
      const edge = (one: Shot | undefined, side: "first" | "last"): Edge[] =>
        one ? [{ shot: one.name, camera: one.camera, frame: one.stage[side] + by, side }] : [];
      return [...edge(before, "last"), ...edge(after, "first")];
    };
    select("shot", [shot.id]);
    pause();
    const over = () => {
      setSays(null);
      useView.setState({ edges: null });
      endTry();
    };
    return {
      move: (by: number) => {
        setSays(`${edit === "slip" ? "slips" : "slides"} ${by > 0 ? "+" : ""}${by} f`);
        useView.setState({ edges: ends(by) });
        tryOut(command(by), useMoment.getState().stage);
      },
      drop: async (by: number | null) => {
        over();
        if (by) complain(await send(command(by)));
        else dropOverlay();
      },
      cancel: () => {
        over();
        dropOverlay();
      },
    };
  };

  const carry = hold((e) => {
    if (e.altKey) return within("slip");
    if (e.shiftKey) return within("slide");
    const others = order.filter((p) => p.id !== shot.id);
    const joint = (by: number) => {
      const middle = (placed.cut_first + placed.cut_last) / 2 + by;
      return others.filter((p) => (p.cut_first + p.cut_last) / 2 < middle).length;
    };
    return {
      // The mark stands at the joint it would be dropped into.
      move: (by) => {
        const to = joint(by);
        const frame = others[to]?.cut_first ?? (others[to - 1]?.cut_last ?? -1) + 1;
        onCarry(xOf(along, frame));
      },
      drop: async (by) => {
        onCarry(null);
        if (by === null) return select("shot", [shot.id]);
        const to = joint(by);
        const before = others[to]?.id ?? null;
        if (to !== order.indexOf(placed)) complain(await send({ kind: "shot.move", shot: shot.id, before }));
      },
      cancel: () => onCarry(null),
    };
  });

  const lens = camera && camera.focal.keys.length === 0 ? ` · ${camera.focal.rest} mm` : "";
  const span = (
    <span className="text-xs whitespace-nowrap text-faint">
      {says ?? `${shot.stage.first}–${shot.stage.last} · ${length} f`}
      {width > 180 && !says && !low && lens}
    </span>
  );
  return (
    <div
      className={`absolute ${low ? "inset-y-0.5" : "inset-y-1"} overflow-hidden rounded-[3px] border bg-sheet ${selected ? "border-slate ring-2 ring-slate" : "border-ink/50"}`}
      style={{ left: xOf(along, placed.cut_first), width: Math.max(width - 1, 2) }}
      data-shot={shot.name}
      role="button"
      tabIndex={stop ? 0 : -1}
      data-region-start={stop || undefined}
      aria-pressed={selected}
      onKeyDown={(e) => shotKey(e, shot, order)}
      title={`Shot ${shot.name}: ${camera?.letter} ${camera?.name}, stage ${shot.stage.first}–${shot.stage.last}. Drag to another place; Alt slips what it shows (A, D), Shift slides it between its neighbours (Alt A, D).`}
      {...carry}
      onDoubleClick={() => scrubCut(placed.cut_first)}
    >
      <div className="h-1" style={{ background: colour }} />
      <div
        className={`flex items-center gap-1.5 px-2 text-sm leading-5 whitespace-nowrap ${low ? "" : "pt-0.5"}`}
      >
        <b>{shot.name}</b>
        {width > 60 && camera && <Letter letter={camera.letter} size={18} />}
        {width > 130 && !(low && says) && <span className="truncate text-xs">{camera?.name}</span>}
        {low && (says ? width > 90 : width > 250) && span}
      </div>
      {!low && width > 90 && <div className="px-2 text-xs leading-4">{span}</div>}
      {!low && says && width <= 90 && <div className="px-1 text-xs text-slate">{length}</div>}
      <div
        className="absolute inset-y-0 left-0 w-2 cursor-w-resize hover:bg-slate/40"
        title={TRIM}
        {...trim("first")}
        data-trim={`${shot.name}-first`}
      />
      <div
        className="absolute inset-y-0 right-0 w-2 cursor-e-resize hover:bg-slate/40"
        title={TRIM}
        {...trim("last")}
        data-trim={`${shot.name}-last`}
      />
    </div>
  );
}

function Gap({ first, last, shot }: { first: number; last: number; shot: Shot }) {
  const along = useAlong();
  const width = (last - first + 1) * along.ppf;
  return (
    <div
      className="absolute top-1 bottom-1 flex items-center justify-center gap-1 overflow-hidden rounded-[3px] text-xs whitespace-nowrap text-white"
      style={{
        left: xOf(along, first),
        width: Math.max(width - 1, 3),
        background: "repeating-linear-gradient(135deg, #1b1b1b 0 6px, #333 6px 12px)",
      }}
      title={`Gap of ${last - first + 1} frames before shot ${shot.name}: plays black`}
      data-gap={shot.name}
    >
      {width > 70 && <span className="rounded bg-black/70 px-1">black {last - first + 1} f</span>}
      {width > 24 && (
        <button
          type="button"
          aria-label={`Close the gap before shot ${shot.name}`}
          title="Close this gap"
          className="rounded bg-black/70 p-0.5"
          onClick={async () => complain(await send({ kind: "shot.set", shot: shot.id, gap_before: 0 }))}
        >
          <X size={13} />
        </button>
      )}
    </div>
  );
}

/** Says at a joint that stage time does not go on frame after frame. */
function Step({ frames, at }: { frames: number; at: number }) {
  const along = useAlong();
  const count = Math.abs(frames);
  const said = frames < 0 ? "repeats" : "skips";
  return (
    <span
      className="pointer-events-auto absolute bottom-1 z-1 -translate-x-full rounded-l-[3px] border border-r-0 border-ochre bg-sheet px-1 text-xs leading-4 whitespace-nowrap text-ochre"
      style={{ left: xOf(along, at) }}
      title={`Stage time ${said} ${count} frame${count === 1 ? "" : "s"} at this cut`}
      data-step={frames}
    >
      {frames < 0 ? "↺" : "↷"} {count}
    </span>
  );
}

function Shots({ low }: { low: boolean }) {
  const along = useAlong();
  const shots = useDocument((s) => s.shown?.shots) ?? [];
  useVersion(CUT);
  const [mark, setMark] = useState<number | null>(null);
  const order = placedShots();
  const byId = new Map(shots.map((s) => [s.id, s]));
  const chosen = useView((s) => (s.kind === "shot" ? s.ids[0] : null));
  const stop = order.some((p) => p.id === chosen) ? chosen : order[0]?.id;
  if (shots.length === 0) {
    return (
      <p className={`px-3 text-sm text-faint ${low ? "py-1" : "py-4"}`}>
        No shots yet. Choose a camera, then <b>Add shot</b>; <b>X</b> cuts to the selected camera at the
        playhead.
      </p>
    );
  }
  let end = -1;
  return (
    <>
      {order.map((placed) => {
        const shot = byId.get(placed.id);
        const gapFirst = end + 1;
        end = placed.cut_last;
        if (!shot || !visible(along, gapFirst, placed.cut_last)) return null;
        return (
          <div key={placed.id}>
            {placed.cut_first > gapFirst && <Gap first={gapFirst} last={placed.cut_first - 1} shot={shot} />}
            <ShotBlock
              shot={shot}
              placed={placed}
              order={order}
              low={low}
              stop={placed.id === stop}
              onCarry={setMark}
            />
            {!!placed.step && <Step frames={placed.step} at={placed.cut_first} />}
          </div>
        );
      })}
      {mark !== null && <div className="absolute inset-y-0 w-0.5 bg-slate" style={{ left: mark }} />}
    </>
  );
}

/** How high the shots stand: lower while curves want the room, pixels. */
const CUT_LANE = { full: 54, low: 32 };

/** The cut: shots in order under their own ruler, in timecode. */
export function CutStrip({ rate }: { rate: number }) {
  const low = usePreferences((s) => s.below !== "lanes");
  useVersion(CUT);
  const table = cutTable();
  const last = Math.max((table?.length ?? 0) - 1, rate * 4);
  const label = (f: number) =>
    table && f <= table.length ? showTimecode(table.timecode[f], table.drop) : "";
  return (
    <RuledStrip
      clock="cut"
      name="Cut"
      first={0}
      last={last}
      onScrub={scrubCut}
      label={label}
      rate={rate}
      flags={<CutCues />}
    >
      <Lane name="Shots" height={CUT_LANE[low ? "low" : "full"]}>
        <Shots low={low} />
      </Lane>
    </RuledStrip>
  );
}
