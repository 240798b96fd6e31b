import { X } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { showTimecode } from "../api/samples";
import type { Shot } from "../api/types";
import { useSaid } from "../store/cut-hand";
import { useDocument } from "../store/document";
import { fitStrip } from "../store/fitted";
import { usePreferences } from "../store/preferences";
import { CUT, cutTable, placedShots, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, scrubCut, useView } from "../store/view";
import { fetched } from "../ui/fetched";
import { Lane, RuledStrip, useAlong, visible, xOf } from "../ui/strip";
import { CutCues } from "./cues";
import { signed } from "./edit-drag";
import { Dissolve, Joint } from "./joints";
import { JointNotes } from "./note-marks";
import { ShotBlock } from "./shot-block";

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
          onClick={async () =>
            complain(await send({ kind: "cut.edit", do: { edit: "close_gap", shots: [shot.id] } }))
          }
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

/** What is said beside the hand that edits the cut. */
function Said() {
  const along = useAlong();
  const said = useSaid((s) => s.said);
  useVersion(CUT);
  if (!said) return null;
  // As what is tried has come back.
  const longer = (placedShots().at(-1)?.cut_last ?? -1) + 1 - (cutTable()?.length ?? 0);
  const x = xOf(along, said.at);
  return (
    <span
      className={`pointer-events-none absolute top-1/2 z-3 -translate-y-1/2 rounded px-1.5 text-sm leading-5 whitespace-nowrap text-white shadow ${said.stopped ? "bg-ochre" : "bg-slate"} ${x > along.width / 2 ? "-translate-x-full" : ""}`}
      style={{ left: x > along.width / 2 ? x - 6 : x + 6 }}
      role="status"
      data-testid="edit-says"
    >
      {said.text}
      {longer !== 0 && ` · cut ${signed(longer)}`}
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
  const joints = shots.filter((s, i) => i > 0 && s.gap_before === 0);
  const joint = joints.find((s) => s.id === chosen)?.id ?? joints[0]?.id;
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
            {gapFirst > 0 && <JointNotes shot={placed.id} at={placed.cut_first} />}
            {!!placed.step && <Step frames={placed.step} at={placed.cut_first} />}
            {placed.cut_first === gapFirst && gapFirst > 0 && (
              <>
                {shot.dissolve && <Dissolve shot={shot} at={placed.cut_first} low={low} />}
                <Joint shot={shot} at={placed.cut_first} stop={shot.id === joint} />
              </>
            )}
          </div>
        );
      })}
      <Said />
      {mark !== null && <div className="absolute inset-y-0 w-0.5 bg-slate" style={{ left: mark }} />}
    </>
  );
}

/** How high the shots stand: lower while curves want the room, pixels. */
const CUT_LANE = { full: 54, low: 32 };

const ShotSounds = lazy(() => fetched(() => import("./shot-sounds")));
const CutSounds = lazy(() => fetched(() => import("./sound-lane")));
const VersionRows = lazy(() => fetched(() => import("./version-rows")));

const useVersioned = () => useDocument((s) => s.shown?.shots.some((shot) => shot.versions.length > 0));

/** The lane's name, with the switch for the versions that lie under the shots, where there are any. */
function ShotsName() {
  const shown = usePreferences((s) => s.versionRows);
  if (!useVersioned()) return "Shots";
  return (
    <span className="flex w-full flex-wrap items-center justify-between">
      Shots
      <button
        type="button"
        className={`rounded border px-1 ${shown ? "border-slate bg-slate-wash" : "border-line text-faint hover:text-ink"}`}
        aria-pressed={shown}
        title="Show the other versions of shots under them; a press on one chooses it"
        onClick={() => usePreferences.setState({ versionRows: !shown })}
      >
        Versions
      </button>
    </span>
  );
}

/** The cut: shots in order under their own ruler, in timecode. */
export function CutStrip({ rate }: { rate: number }) {
  const low = usePreferences((s) => s.below !== "lanes");
  const versionRows = usePreferences((s) => s.versionRows);
  const many = useVersioned();
  const heard = useDocument((s) => s.shown?.sounds.some((one) => one.on === "cut"));
  const staged = useDocument(
    (s) => s.shown?.lines.length || s.shown?.sounds.some((one) => one.on === "stage"),
  );
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
      more={
        <button
          type="button"
          className="rounded px-1 text-faint hover:bg-paper hover:text-ink"
          title="Fit the strip to the whole cut (Alt Shift F); Alt F fits it to the selected shots"
          onClick={() => fitStrip("cut", null)}
        >
          Fit all
        </button>
      }
    >
      <Lane name={<ShotsName />} height={CUT_LANE[low ? "low" : "full"]}>
        <Shots low={low} />
      </Lane>
      {Boolean(staged) && !low && (table?.length ?? 0) > 0 && (
        <Suspense>
          <ShotSounds />
        </Suspense>
      )}
      {heard && (
        <Suspense>
          <CutSounds />
        </Suspense>
      )}
      {versionRows && many && (
        <Suspense>
          <VersionRows />
        </Suspense>
      )}
    </RuledStrip>
  );
}
