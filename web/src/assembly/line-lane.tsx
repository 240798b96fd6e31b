import type { KeyboardEvent } from "react";
import type { Scene, SpokenLine, TimedLine } from "../api/types";
import { useDocument } from "../store/document";
import { chooseLines, speakerOf, useLines } from "../store/lines";
import { rate, useMoment } from "../store/moment";
import { LINES, timedLines, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, scrubStage, toggleSide, useView } from "../store/view";
import type { Hand } from "../ui/hold";
import { nudge } from "../ui/nudge";
import { Lane, useAlong, useFrameHold, useLaneHeight, visible, xOf } from "../ui/strip";
import { hungWords } from "../verbs/hanging";
import { deleteLines, holdsWord, movesLines } from "../verbs/lines";
import { trying } from "./lane-marks";
import { LaneName } from "./lane-name";
import { type Spot, snapped } from "./snaps";

/** Words are parted, and each can be dragged, where the narrowest of them has so many pixels. */
const PARTED = 9;

/** What lines are drawn on to: cues, ends of acts, cuts, the playhead. */
function spots(): Spot[] {
  const { scene } = useDocument.getState();
  if (!scene) return [];
  return [
    { at: useMoment.getState().stage, name: "the playhead" },
    ...scene.cues.map((cue) => ({ at: cue.frame, name: cue.name })),
    ...scene.shots.flatMap(({ stage }) => [stage.first, stage.last + 1].map((at) => ({ at, name: "a cut" }))),
    ...scene.figures.flatMap((figure) =>
      figure.acts.flatMap(({ frames }) =>
        [frames.first, frames.last + 1].map((at) => ({ at, name: figure.name })),
      ),
    ),
  ];
}

/** Which lines are heard over another one: they stand in a second row. */
function overlapping(times: TimedLine[]): Set<string> {
  const low = new Set<string>();
  times.forEach((one, i) => {
    const over = times.slice(0, i).findLast((other) => other.last >= one.first);
    if (over && !low.has(over.id)) low.add(one.id);
  });
  return low;
}

/** All lines on a lane, or those of one figure. */
export function LineBlocks({ figure }: { figure?: string }) {
  const scene = useDocument((s) => s.shown);
  useDocument((s) => s.overlay);
  useVersion(LINES);
  const along = useAlong();
  if (!scene) return null;
  const times = timedLines();
  const low = figure ? new Set<string>() : overlapping(times);
  return times.map((time, i) => {
    const line = scene.lines.find((one) => one.id === time.id);
    if (!line || (figure && line.figure !== figure) || !visible(along, time.first, time.last)) return null;
    const row = low.has(time.id) ? "low" : low.size ? "high" : null;
    return <LineBlock key={line.id} scene={scene} line={line} time={time} row={row} after={times[i - 1]} />;
  });
}

interface BlockProps {
  scene: Scene;
  line: SpokenLine;
  time: TimedLine;
  /** Which of two rows, where there are two. */
  row: "low" | "high" | null;
  after: TimedLine | undefined;
}

function LineBlock({ scene, line, time, row, after }: BlockProps) {
  const along = useAlong();
  const hold = useFrameHold();
  const chosen = useLines((s) => s.chosen.includes(line.id));
  const { name, colour } = speakerOf(scene, line);
  const words = line.text.split(/\s+/);
  const ends = [...time.words, time.last + 1];
  const left = xOf(along, time.first);
  const width = Math.max((time.last - time.first + 1) * along.ppf - 1, 3);
  const narrowest = Math.min(...time.words.map((at, i) => (ends[i + 1] - at) * along.ppf));
  const parted = narrowest >= PARTED;
  const place = row === "low" ? "top-1/2 bottom-px" : row === "high" ? "top-px bottom-1/2" : "inset-y-px";
  const press = (shift: boolean) => {
    const { chosen: all } = useLines.getState();
    if (!shift) chooseLines([line.id]);
    else chooseLines(chosen ? all.filter((id) => id !== line.id) : [...all, line.id]);
  };
  const carried = () => {
    if (!chosen) press(false);
    const to = spots();
    const by = (n: number, hand: Hand) =>
      hand.ctrl || hand.alt ? n : snapped(n, time.first, to, along.ppf).by;
    return trying(
      (n, hand) => movesLines(line.id, by(n, hand)),
      (hand) => press(hand.shift),
    );
  };
  const word = (i: number) =>
    hold(() => {
      if (!chosen) press(false);
      const to = spots();
      const from = ends[i];
      return trying(
        (n, hand) =>
          holdsWord(line.id, i, from + (hand.ctrl || hand.alt ? n : snapped(n, from, to, along.ppf).by)),
        () => scrubStage(from),
      );
    });
  const hung = hungWords(scene);
  const held = new Set(line.held.map((one) => one.word));
  const follows = line.first === null && after && after.last < time.first;
  return (
    <>
      {follows && (
        <div
          aria-hidden="true"
          className="pointer-events-none absolute top-1/2 border-t border-dotted border-faint"
          style={{ left: xOf(along, after.last + 1), width: (time.first - after.last - 1) * along.ppf }}
        />
      )}
      <div className={`absolute ${place}`} style={{ left, width }} data-line={line.id}>
        <button
          type="button"
          aria-label={`${name} says “${line.text}”, ${time.first} to ${time.last}`}
          aria-pressed={chosen}
          className="absolute inset-0 cursor-grab overflow-hidden rounded-[3px] bg-sheet text-left text-xs leading-none whitespace-nowrap text-ink"
          style={{
            boxShadow: chosen ? "inset 0 0 0 2px var(--slate)" : `inset 0 0 0 1px ${colour}`,
            borderLeft: `3px solid ${colour}`,
          }}
          title={`${name}: “${line.text}” (${time.first}–${time.last}). Drag to move it and what follows; drag a word or its end to hold that; Ctrl without snapping.`}
          onKeyDown={(e) => lineKey(e, line)}
          onDoubleClick={() => toggleSide("lines", true)}
          {...hold(carried)}
        >
          {parted ? (
            words.map((said, i) => (
              <span
                key={i}
                className="absolute inset-y-0 flex items-center overflow-hidden pl-1"
                style={{
                  left: (time.words[i] - time.first) * along.ppf - 3,
                  width: (ends[i + 1] - time.words[i]) * along.ppf,
                }}
              >
                {said}
              </span>
            ))
          ) : (
            <span className="flex h-full items-center truncate px-1">{line.text}</span>
          )}
        </button>
        {ends.map(
          (at, i) =>
            hung.has(`${line.id} ${i}`) && (
              <div
                key={`hung ${i}`}
                className="pointer-events-none absolute bottom-0 size-0 border-x-4 border-t-4 border-x-transparent border-t-ochre"
                style={{ left: (at - time.first) * along.ppf - (i < words.length ? 2 : 5) }}
                data-hung={`${line.id} ${i}`}
              />
            ),
        )}
        {ends.map((at, i) =>
          i === 0 || (!parted && i < words.length) ? null : (
            <div
              key={i}
              data-word={`${line.id} ${i}`}
              className={`absolute inset-y-0 w-1.5 cursor-col-resize hover:bg-slate/40 ${held.has(i) ? "border-l-2 border-ochre" : i < words.length ? "border-l border-line" : ""}`}
              style={{ left: (at - time.first) * along.ppf - (i < words.length ? 1 : 5) }}
              title={
                i < words.length
                  ? `“${words[i]}” at ${at}${held.has(i) ? ", held there; double-click lets it go" : ""}: drag to hold it elsewhere`
                  : `The end of the line, ${time.last}: drag to say it slower or quicker${held.has(i) ? "; double-click for its usual length" : ""}`
              }
              onDoubleClick={() => {
                if (held.has(i)) void send(holdsWord(line.id, i, null)).then(complain);
              }}
              {...word(i)}
            />
          ),
        )}
      </div>
    </>
  );
}

/** The keyboard on a line: moved by frames, its end with Alt, deleted, opened in the table. */
function lineKey(e: KeyboardEvent, line: SpokenLine): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const mine = () => {
    e.preventDefault();
    e.stopPropagation();
    if (!useLines.getState().chosen.includes(line.id)) chooseLines([line.id]);
  };
  if (e.key === "Delete" || e.key === "Backspace") {
    mine();
    void deleteLines();
  } else if (e.key === "Enter") {
    mine();
    toggleSide("lines", true);
  } else if (e.key === " ") {
    mine();
  } else if (by && !e.ctrlKey && !e.metaKey) {
    mine();
    const far = by * (e.shiftKey ? Math.round(rate()) : 1);
    const end = e.altKey;
    void nudge(`${line.id} ${end ? "end" : "at"}`, [far], async ([sum]) => {
      const now = timedLines().find((one) => one.id === line.id);
      if (!now) return false;
      const command = end
        ? holdsWord(line.id, now.words.length, now.last + 1 + sum)
        : movesLines(line.id, sum);
      return complain(await send(command));
    });
  }
}

/** Everybody's lines, over what everybody does. */
export function LinesLane() {
  const on = useView((s) => s.side === "lines");
  const usual = useLaneHeight();
  useDocument((s) => s.overlay);
  useVersion(LINES);
  return (
    <Lane
      on={on}
      height={overlapping(timedLines()).size ? 2 * usual : usual}
      name={
        <LaneName lane="lines">
          <button
            type="button"
            className="w-full truncate text-left"
            aria-expanded={on}
            title="Press for the table of lines"
            onClick={() => toggleSide("lines")}
          >
            Lines
          </button>
        </LaneName>
      }
    >
      <LineBlocks />
    </Lane>
  );
}
