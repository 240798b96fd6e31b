import { useQuery } from "@tanstack/react-query";
import { ChevronsDownUp, ChevronsUpDown, GanttChart, Rows3, Spline } from "lucide-react";
import { memo, type ReactNode, useLayoutEffect, useMemo, useRef, useState } from "react";
import { catalogue } from "../api/queries";
import {
  type Act,
  type Camera,
  type ChannelSpec,
  type Command,
  type Figure,
  type Mover,
  POSE,
} from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { lineHue } from "../store/hues";
import { type KeysHere, keysOf } from "../store/keys";
import { rate, useMoment } from "../store/moment";
import { useOnAir } from "../store/seen";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, lookThrough, scrubStage, select, useView } from "../store/view";
import { useWishes } from "../store/wishes";
import { Letter } from "../ui/badge";
import { LongList } from "../ui/long-list";
import { nudge } from "../ui/nudge";
import { useOneStop } from "../ui/one-stop";
import {
  type FrameHeld,
  Lane,
  LaneHeight,
  NAMES,
  RuledStrip,
  useAlong,
  useFrameHold,
  visible,
  xOf,
} from "../ui/strip";
import { deleteKeys, labelOf, moveKeys } from "../verbs/keys";
import { GazeBars, LayerBars } from "./bars";
import { StageCues } from "./cues";
import { OffAir } from "./off-air";

/** How tall a lane is, pixels. */
const TALL = 22;
const THIN = 15;

const stage = () => useMoment.getState().stage;

/** Tries a command at each frame it is dragged by, and does it where it is let go. */
const trying = (command: (by: number) => Command, press?: () => void): FrameHeld => ({
  move: (by) => tryOut(command(by), stage()),
  drop: async (by) => {
    endTry();
    if (by === null) press?.();
    if (by) complain(await send(command(by)));
    else dropOverlay();
  },
  cancel: () => {
    endTry();
    dropOverlay();
  },
});

function ActBlock({ figure, act, index }: { figure: Figure; act: Act; index: number }) {
  const along = useAlong();
  const hold = useFrameHold();
  if (!visible(along, act.frames.first, act.frames.last)) return null;
  const width = (act.frames.last - act.frames.first + 1) * along.ppf;
  const drag = (ends: ("first" | "last")[]) =>
    hold(() => {
      select("figure", [figure.id]);
      const command = (by: number) => {
        const frames = { ...act.frames };
        for (const end of ends) frames[end] += by;
        return { kind: "figure.act.set" as const, figure: figure.id, index, act: { ...act, frames } };
      };
      return trying(command);
    });
  return (
    <div
      className="absolute top-0.5 bottom-0.5 cursor-grab overflow-hidden rounded-[3px] flex items-center px-1.5 text-xs leading-none whitespace-nowrap text-white"
      style={{
        left: xOf(along, act.frames.first),
        width: Math.max(width - 1, 2),
        background: figure.look.coat,
      }}
      title={`${figure.name}: ${act.kind} ${act.frames.first}–${act.frames.last}`}
      {...drag(["first", "last"])}
    >
      {act.kind}
      <div className="absolute inset-y-0 left-0 w-1.5 cursor-w-resize" {...drag(["first"])} />
      <div className="absolute inset-y-0 right-0 w-1.5 cursor-e-resize" {...drag(["last"])} />
    </div>
  );
}

function KeyDiamonds({ thing, kind }: { thing: Camera | Mover; kind: "camera" | "mover" }) {
  const along = useAlong();
  const hold = useFrameHold();
  const specs = useQuery(catalogue).data?.channels[kind];
  const drag = (frame: number) =>
    hold(() => {
      select(kind, [thing.id]);
      const command = (by: number) => moveKeys(thing.id, frame, by);
      return trying(command, () => scrubStage(frame));
    });
  return keysOf(thing)
    .map((key, index) => ({ key, index }))
    .filter(({ key }) => visible(along, key.frame, key.frame))
    .map(({ key, index }) => (
      <button
        type="button"
        // By its place among the others, so that it keeps the keyboard while it moves.
        key={index}
        aria-label={`Key at ${key.frame}`}
        title={`${keyWords(specs, key)} at ${key.frame}: drag to move in time`}
        className="absolute top-1/2 h-3.5 w-3.5 -translate-y-1/2 cursor-ew-resize"
        style={{ left: xOf(along, key.frame) + along.ppf / 2 - 7 }}
        onKeyDown={(e) => {
          const by = e.ctrlKey || e.metaKey ? undefined : { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          const gone = e.key === "Delete" || e.key === "Backspace";
          if (!by && !gone) return;
          e.preventDefault();
          const far = (by ?? 0) * (e.shiftKey ? Math.round(rate()) : 1);
          if (gone) void send(deleteKeys(thing.id, key.frame)).then(complain);
          else
            void nudge(`${thing.id} key ${index}`, [far], async ([sum]) => {
              const { scene } = useDocument.getState();
              const now = itemOf(scene, `${kind}s`, thing.id);
              const frame = now && keysOf(now)[index]?.frame;
              return (
                frame !== undefined && frame !== null && complain(await send(moveKeys(thing.id, frame, sum)))
              );
            });
        }}
        {...drag(key.frame)}
        data-key={`${"letter" in thing ? thing.letter : thing.name}-${key.frame}`}
      >
        <svg viewBox="0 0 14 14" aria-hidden="true">
          <path d="M7 0.5 L13.5 7 L7 13.5 L0.5 7 Z" fill="var(--ochre)" stroke="var(--sheet)" />
        </svg>
      </button>
    ));
}

/** What is keyed, as people say it. */
function keyWords(specs: ChannelSpec[] | undefined, key: KeysHere): string {
  const others = key.channels.filter((name) => !(POSE as readonly string[]).includes(name));
  const pose = others.length < key.channels.length ? ["place and direction"] : [];
  return `Key on ${[...pose, ...others.map((name) => labelOf(specs, name))].join(", ")}`;
}

type Range = [number, number, string];
const NOWHERE: Range[] = [];

/** The stage ranges each camera's shots show; the same list as before for a camera whose shots did not change. */
function useRanges(): Map<string, Range[]> {
  const shots = useDocument((s) => s.shown?.shots);
  const last = useRef(new Map<string, Range[]>());
  return useMemo(() => {
    const now = new Map<string, Range[]>();
    for (const s of shots ?? [])
      now.set(s.camera, [...(now.get(s.camera) ?? []), [s.stage.first, s.stage.last, s.name]]);
    for (const [camera, ranges] of now) {
      const was = last.current.get(camera);
      if (was && String(was) === String(ranges)) now.set(camera, was);
    }
    last.current = now;
    return now;
  }, [shots]);
}

const CameraLane = memo(function CameraLane({ camera, ranges }: { camera: Camera; ranges: Range[] }) {
  const on = useView((s) => s.kind === "camera" && s.ids.includes(camera.id));
  const air = useOnAir() === camera.id;
  return (
    <Lane
      on={on}
      name={
        <button
          type="button"
          className="flex min-w-0 items-center gap-1.5 pl-0.5"
          onClick={() => select("camera", [camera.id])}
          onDoubleClick={() => lookThrough({ camera: camera.id })}
        >
          <Letter letter={camera.letter} size={14} air={air} />
          <span className="truncate">{camera.name}</span>
        </button>
      }
    >
      <OffAir camera={camera} />
      <CoveredRanges camera={camera} ranges={ranges} />
      {on && <LayerBars camera={camera} />}
      <FocusMarks camera={camera} />
      <KeyDiamonds thing={camera} kind="camera" />
    </Lane>
  );
});

/** Racks of the focus: a line while it turns, a ring where it arrives. */
function FocusMarks({ camera }: { camera: Camera }) {
  const along = useAlong();
  return camera.focus.marks
    .filter((mark) => visible(along, mark.frame - mark.over, mark.frame))
    .map((mark) => {
      const x = xOf(along, mark.frame) + along.ppf / 2;
      return (
        <button
          type="button"
          key={mark.frame}
          aria-label={`Focus arrives at ${mark.frame}`}
          title={`Focus racks over ${mark.over} frames and arrives at ${mark.frame}`}
          className="absolute top-1/2 h-3.5 -translate-y-1/2"
          style={{ left: x - mark.over * along.ppf, width: mark.over * along.ppf + 6 }}
          onClick={() => scrubStage(mark.frame)}
        >
          <span className="absolute top-1.5 right-1.5 left-0 border-t-2 border-dotted border-ochre" />
          <span className="absolute top-0.5 right-0 h-2.5 w-2.5 rounded-full border-2 border-ochre bg-sheet" />
        </button>
      );
    });
}

function CoveredRanges({ camera, ranges }: { camera: Camera; ranges: Range[] }) {
  const along = useAlong();
  return ranges
    .filter(([first, last]) => visible(along, first, last))
    .map(([first, last, name]) => (
      <div
        key={name}
        title={`Shot ${name} shows ${first}–${last}`}
        className="absolute top-1/2 h-2 -translate-y-1/2 rounded-full opacity-60"
        style={{
          left: xOf(along, first),
          width: (last - first + 1) * along.ppf,
          background: lineHue(camera.letter),
        }}
      />
    ));
}

function PersonLane({ figure }: { figure: Figure }) {
  const on = useView((s) => s.kind === "figure" && s.ids.includes(figure.id));
  return (
    <Lane
      on={on}
      name={
        <button
          type="button"
          className="flex items-center gap-1.5 truncate"
          onClick={() => select("figure", [figure.id])}
        >
          <span
            className="inline-block h-2.5 w-2.5 shrink-0 rounded-full"
            style={{ background: figure.look.coat }}
          />
          <span className="truncate">{figure.name}</span>
        </button>
      }
    >
      {figure.acts.map((act, i) => (
        <ActBlock key={i} figure={figure} act={act} index={i} />
      ))}
      {on && <GazeBars figure={figure} />}
    </Lane>
  );
}

function MoverLane({ mover }: { mover: Mover }) {
  return (
    <Lane
      name={
        <button type="button" className="truncate" onClick={() => select("mover", [mover.id])}>
          {mover.name}
        </button>
      }
    >
      <KeyDiamonds thing={mover} kind="mover" />
    </Lane>
  );
}

/** The action: what figures do, each camera's keys and covered range, movers' keys, in stage frames. */
export function StageStrip({ rate, curves }: { rate: number; curves: ReactNode }) {
  const scene = useDocument((s) => s.shown);
  const ranges = useRanges();
  const folded = useWishes((s) => s.folded);
  const onAir = useOnAir();
  const ids = useView((s) => s.ids);
  const room = useRef<HTMLDivElement>(null);
  const [high, setHigh] = useState(0);
  const below = useWishes((s) => s.below);
  const there = scene !== null && below === "lanes";
  useLayoutEffect(() => {
    const el = room.current;
    if (!el || !there) return;
    const measure = () => setHigh(el.clientHeight);
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    return () => watch.disconnect();
  }, [there]);
  useOneStop(room, there);
  if (!scene) return null;
  const all = [
    ...scene.figures.map((thing) => ({ of: "figure" as const, thing })),
    ...scene.cameras.map((thing) => ({ of: "camera" as const, thing })),
    ...scene.movers.map((thing) => ({ of: "mover" as const, thing })),
  ];
  const lanes = folded
    ? all.filter(({ of, thing }) => of === "figure" || thing.id === onAir || ids.includes(thing.id))
    : all;
  // As tall as they fit, and never too thin to read.
  const height = Math.round(Math.min(Math.max(high / Math.max(lanes.length, 1), THIN), TALL));
  return (
    <RuledStrip
      clock="stage"
      name="Stage"
      more={
        <>
          <Below />
          {below === "lanes" && (
            <button
              type="button"
              className="text-faint hover:text-ink"
              title={folded ? "Show every lane" : "Only figures, what is selected and what is on air"}
              aria-label={folded ? "Show every lane" : "Fold the lanes"}
              aria-pressed={folded}
              onClick={() => useWishes.setState({ folded: !folded })}
            >
              {folded ? <ChevronsUpDown size={14} /> : <ChevronsDownUp size={14} />}
            </button>
          )}
        </>
      }
      first={scene.frames.first}
      last={scene.frames.last}
      onScrub={scrubStage}
      flags={<StageCues />}
      label={String}
      rate={rate}
      className="flex-1 border-t border-line"
    >
      {below !== "lanes" && curves}
      {below === "lanes" && lanes.length === 0 && (
        <p className="px-3 py-3 text-sm text-faint" style={{ marginLeft: NAMES }}>
          What figures do and where cameras have keys will stand here, by frame.
        </p>
      )}
      {below === "lanes" && (
        <div ref={room} className="h-full">
          <LaneHeight value={height}>
            <LongList
              items={lanes}
              keyOf={(lane) => lane.thing.id}
              height={height}
              className="h-full"
              label="Lanes"
              shown={lanes.findIndex((lane) => ids.includes(lane.thing.id))}
            >
              {(lane) =>
                lane.of === "figure" ? (
                  <PersonLane figure={lane.thing} />
                ) : lane.of === "camera" ? (
                  <CameraLane camera={lane.thing} ranges={ranges.get(lane.thing.id) ?? NOWHERE} />
                ) : (
                  <MoverLane mover={lane.thing} />
                )
              }
            </LongList>
          </LaneHeight>
        </div>
      )}
    </RuledStrip>
  );
}

const VIEWS = [
  { value: "lanes", says: "Lanes: what everyone does, and every camera's keys", Icon: Rows3 },
  { value: "curves", says: "Curves of what is chosen", Icon: Spline },
  { value: "rows", says: "Keys of what is chosen, in rows", Icon: GanttChart },
] as const;

/** What stands under the stage's ruler. */
function Below() {
  const below = useWishes((s) => s.below);
  return (
    <span className="mr-1 flex items-center gap-0.5" role="radiogroup" aria-label="Under the ruler">
      {VIEWS.map(({ value, says, Icon }) => (
        <button
          type="button"
          key={value}
          role="radio"
          aria-checked={below === value}
          aria-label={says.split(":")[0]}
          title={`${says} (U goes round)`}
          className={`rounded-sm p-0.5 ${below === value ? "bg-slate text-sheet" : "text-faint hover:text-ink"}`}
          onClick={() => useWishes.setState({ below: value })}
        >
          <Icon size={13} />
        </button>
      ))}
    </span>
  );
}
