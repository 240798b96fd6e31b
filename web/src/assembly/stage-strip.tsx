import {
  ChevronDown,
  ChevronRight,
  ChevronsDownUp,
  ChevronsUpDown,
  GanttChart,
  Rows3,
  Spline,
} from "lucide-react";
import { lazy, memo, type ReactNode, Suspense, useLayoutEffect, useMemo, useRef, useState } from "react";
import { catalogue } from "../api/catalogue";
import type { Camera, Figure, Mover, Sound } from "../api/types";
import { useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { useOnAir } from "../store/seen";
import { lookThrough, scrubStage, select, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { fetched } from "../ui/fetched";
import { LongList } from "../ui/long-list";
import { useOneStop } from "../ui/one-stop";
import { Lane, LaneHeight, NAMES, RuledStrip } from "../ui/strip";
import type { Lane as LaneName } from "../verbs/acts";
import { LaneActs } from "./act-lanes";
import { LayerBars } from "./bars";
import { StageCues } from "./cues";
import { HeldBars } from "./held-bars";
import { CoveredRanges, FocusMarks, KeyDiamonds, type Range } from "./lane-marks";
import { LaneNotes } from "./note-marks";
import { OffAir } from "./off-air";

/** How tall a lane is, pixels. */
const TALL = 22;
const THIN = 18;

const NOWHERE: Range[] = [];

const opened = () => fetched(() => import("./open-lane"));
const OpenLane = lazy(() => opened().then((m) => ({ default: m.OpenLane })));
const said = () => fetched(() => import("./line-lane"));
const LinesLane = lazy(() => said().then((m) => ({ default: m.LinesLane })));
const LineBlocks = lazy(() => said().then((m) => ({ default: m.LineBlocks })));
const SoundLane = lazy(() => fetched(() => import("./sound-lane")).then((m) => ({ default: m.SoundLane })));
const AddToLane = lazy(() => opened().then((m) => ({ default: m.AddToLane })));

/** A lane of the strip: a figure's body, another lane of one that is open, a camera, or a mover. */
type Row = { key: string } & (
  | { of: "figure"; thing: Figure }
  | { of: "group"; thing: Figure; group: string; members: Figure[] }
  | { of: "lane"; thing: Figure; lane: LaneName }
  | { of: "lines" }
  | { of: "sound"; lane: Sound["lane"] }
  | { of: "said"; thing: Figure }
  | { of: "camera"; thing: Camera }
  | { of: "mover"; thing: Mover }
);

/** The stage ranges each camera's shots show; the same list as before for a camera whose shots did not change. */
function useRanges(): Map<string, Range[]> {
  const shots = useDocument((s) => s.shown?.shots);
  const last = useRef(new Map<string, Range[]>());
  return useMemo(() => {
    const now = new Map<string, Range[]>();
    for (const s of shots ?? [])
      if (s.camera) now.set(s.camera, [...(now.get(s.camera) ?? []), [s.stage.first, s.stage.last, s.name]]);
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
      <LaneNotes camera={camera} chosen={on} />
      <CoveredRanges camera={camera} ranges={ranges} />
      {on && <LayerBars camera={camera} />}
      <FocusMarks camera={camera} />
      <KeyDiamonds thing={camera} kind="camera" />
    </Lane>
  );
});

function PersonLane({ figure }: { figure: Figure }) {
  const on = useView((s) => s.kind === "figure" && s.ids.includes(figure.id));
  return (
    <Lane
      on={on}
      name={
        <span className="flex w-full items-center gap-1">
          <button
            type="button"
            className="flex min-w-0 flex-1 items-center gap-1.5"
            aria-expanded={on}
            title={on ? "" : "Press to open its lanes: body, hands, look and face"}
            onClick={() => select("figure", [figure.id])}
          >
            <span
              className="inline-block h-2.5 w-2.5 shrink-0 rounded-full"
              style={{ background: figure.look.coat }}
            />
            <span className="truncate">{figure.name}</span>
          </button>
          {on && (
            <Suspense>
              <AddToLane figure={figure} lane="body" />
            </Suspense>
          )}
        </span>
      }
    >
      <LaneActs figure={figure} lane="body" />
    </Lane>
  );
}

/** A group of figures: folded to one lane, or open to a lane for each. */
function GroupLane({
  group,
  members,
  open,
  onSet,
}: {
  group: string;
  members: Figure[];
  open: boolean;
  onSet: (group: string) => void;
}) {
  return (
    <Lane
      name={
        <button
          type="button"
          className="flex min-w-0 items-center gap-1"
          aria-expanded={open}
          title={open ? "Fold the group" : "Show a lane for each"}
          onClick={() => onSet(group)}
        >
          {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
          <span className="truncate">{group}</span>
          <span className="text-faint">{members.length}</span>
        </button>
      }
    >
      <button
        type="button"
        className="absolute inset-y-0 left-2 text-xs text-faint hover:text-ink"
        onClick={() =>
          select(
            "figure",
            members.map((one) => one.id),
          )
        }
      >
        Select all {members.length}
      </button>
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
      <HeldBars mover={mover} />
      <KeyDiamonds thing={mover} kind="mover" />
    </Lane>
  );
}

/** The action: what figures do, each camera's keys and covered range, movers' keys, in stage frames. */
export function StageStrip({ rate, curves }: { rate: number; curves: ReactNode }) {
  const scene = useDocument((s) => s.shown);
  const ranges = useRanges();
  const folded = usePreferences((s) => s.folded);
  const onAir = useOnAir();
  const pickable = useView((s) => s.pickable);
  const ids = useView((s) => s.ids);
  const kind = useView((s) => s.kind);
  const room = useRef<HTMLDivElement>(null);
  const [high, setHigh] = useState(0);
  const [openGroups, setOpened] = useState<string[]>([]);
  const openGroup = (group: string) =>
    setOpened((was) => (was.includes(group) ? was.filter((one) => one !== group) : [...was, group]));
  const below = usePreferences((s) => s.below);
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
  const all: Row[] = [
    ...(scene.lines.length ? [{ of: "lines" as const, key: "lines" }] : []),
    ...(["lines", "effects", "bed", "music"] as const)
      .filter((lane) => scene.sounds.some((one) => one.on === "stage" && one.lane === lane))
      .map((lane): Row => ({ of: "sound", lane, key: `sound ${lane}` })),
    ...scene.figures.flatMap((thing): Row[] => {
      const members = thing.group ? scene.figures.filter((one) => one.group === thing.group) : [];
      // A group stands where the first of it does; folded it shows who is selected alone.
      const head: Row[] =
        members.length > 1 && members[0] === thing
          ? [{ of: "group", thing, group: thing.group, members, key: `group ${thing.group}` }]
          : [];
      const shut = members.length > 1 && !openGroups.includes(thing.group);
      const chosen = kind === "figure" && ids.includes(thing.id);
      const own: Row[] = shut && !chosen ? head : [...head, { of: "figure", thing, key: thing.id }];
      // A figure that is selected opens to its lanes.
      const open = chosen && ids.length === 1 ? catalogue.lanes.filter((l) => l !== "body") : [];
      const says = chosen && ids.length === 1 && scene.lines.some((line) => line.figure === thing.id);
      return [
        ...own,
        ...open.map((lane): Row => ({ of: "lane", thing, lane, key: `${thing.id} ${lane}` })),
        ...(says ? [{ of: "said" as const, thing, key: `${thing.id} says` }] : []),
      ];
    }),
    ...scene.cameras.map((thing): Row => ({ of: "camera", thing, key: thing.id })),
    ...scene.movers.map((thing): Row => ({ of: "mover", thing, key: thing.id })),
  ];
  // What is put aside has no lane, unless it is selected.
  const near = all.filter(
    (row) =>
      row.of === "lines" ||
      row.of === "sound" ||
      ids.includes(row.thing.id) ||
      (row.of === "camera" ? pickable.cameras : pickable.people),
  );
  const lanes = folded
    ? near.filter(
        (row) =>
          (row.of !== "camera" && row.of !== "mover") || row.thing.id === onAir || ids.includes(row.thing.id),
      )
    : near;
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
              onClick={() => usePreferences.setState({ folded: !folded })}
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
              keyOf={(lane) => lane.key}
              height={height}
              className="h-full"
              label="Lanes"
              shown={lanes.findIndex(
                (lane) => lane.of !== "lines" && lane.of !== "sound" && ids.includes(lane.thing.id),
              )}
            >
              {(lane) =>
                lane.of === "lines" ? (
                  <Suspense fallback={<Lane name="Lines">{null}</Lane>}>
                    <LinesLane />
                  </Suspense>
                ) : lane.of === "sound" ? (
                  <Suspense fallback={<Lane name="">{null}</Lane>}>
                    <SoundLane on="stage" lane={lane.lane} />
                  </Suspense>
                ) : lane.of === "said" ? (
                  <Lane on name={<span className="pl-4">Line</span>}>
                    <Suspense>
                      <LineBlocks figure={lane.thing.id} />
                    </Suspense>
                  </Lane>
                ) : lane.of === "group" ? (
                  <GroupLane
                    group={lane.group}
                    members={lane.members}
                    open={openGroups.includes(lane.group)}
                    onSet={openGroup}
                  />
                ) : lane.of === "figure" ? (
                  <PersonLane figure={lane.thing} />
                ) : lane.of === "lane" ? (
                  <Suspense
                    fallback={
                      <Lane on name="">
                        {null}
                      </Lane>
                    }
                  >
                    <OpenLane figure={lane.thing} lane={lane.lane} />
                  </Suspense>
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
  const below = usePreferences((s) => s.below);
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
          onClick={() => usePreferences.setState({ below: value })}
        >
          <Icon size={13} />
        </button>
      ))}
    </span>
  );
}
