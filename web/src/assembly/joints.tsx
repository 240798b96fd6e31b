import { useEffect, useState } from "react";
import type { Shot } from "../api/types";
import { useSaid } from "../store/cut-hand";
import { itemOf, useDocument } from "../store/document";
import { go, loopRange, pause, play, rate, useMoment } from "../store/moment";
import { placedShots } from "../store/samples";
import { lookThrough, scrubCut, useView } from "../store/view";
import { useAlong, useFrameHold, xOf } from "../ui/strip";
import { dissolve, nudgeEdit } from "../verbs/cutting";
import { goesWith } from "../verbs/hanging";
import { besides, dragEdges, dragFrames, edgeOf } from "./edit-drag";
import { cutSpots, stageSpots } from "./snaps";
import { goTo, goToJoint } from "./walk";

/** Play over a cut, half a second before it and after it, in a loop; a second call stops it. */
export function playOver(shot: string): void {
  const { playing, loop } = useMoment.getState();
  const at = placedShots().find((one) => one.id === shot)?.cut_first;
  if (at === undefined) return;
  const half = Math.max(Math.round(rate() / 2), 1);
  const range = { first: Math.max(at - half, 0), last: at + half - 1 };
  pause();
  if (playing && loop?.clock === "cut" && loop.first === range.first) {
    loopRange(null);
    scrubCut(at);
    return;
  }
  useView.setState({ edges: null });
  lookThrough("cut");
  scrubCut(range.first);
  loopRange(range);
  useMoment.setState({ looping: true });
  go(range.first);
  play();
}

/** The cut between two shots that touch: rolled by hand, walked to and nudged by keys, played over. */
export function Joint({ shot, at, stop }: { shot: Shot; at: number; stop: boolean }) {
  const along = useAlong();
  const hold = useFrameHold();
  const [on, setOn] = useState(false);
  const playing = useMoment((s) => s.playing);
  const revision = useDocument((s) => s.revision);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a change that was kept is the reason to look again
  useEffect(() => {
    const now = itemOf(useDocument.getState().scene, "shots", shot.id);
    if (!on || playing || !now) return;
    scrubCut(placedShots().find((one) => one.id === shot.id)?.cut_first ?? at);
    useView.setState({ edges: [...edgeOf(besides(now).before, "last"), ...edgeOf(now, "first")] });
    return () => useView.setState({ edges: null });
  }, [on, playing, revision, shot.id]);

  const hangs = goesWith(shot.stage.first, shot.bound);
  const take = (now: boolean) => {
    setOn(now);
    useSaid.setState({ joint: now });
  };
  const key = (e: React.KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const far = e.shiftKey ? Math.round(rate()) : 1;
    const { before } = besides(shot);
    const shots = useDocument.getState().scene?.shots ?? [];
    const joints = shots.filter((one, i) => i > 0 && one.gap_before === 0);
    const here = joints.findIndex((one) => one.id === shot.id);
    const name = e.key.length === 1 ? e.key.toLowerCase() : e.key;
    const does: Record<string, (() => void) | undefined> = {
      ArrowLeft: () => joints[here - 1] && goToJoint(joints[here - 1].id),
      ArrowRight: () => joints[here + 1] && goToJoint(joints[here + 1].id),
      ArrowUp: () => goTo(shot),
      Enter: () => playOver(shot.id),
      p: () => playOver(shot.id),
      a: () => void nudgeEdit({ edit: "roll", shots: [shot.id] }, -far),
      d: () => void nudgeEdit({ edit: "roll", shots: [shot.id] }, far),
      q: () => before && void nudgeEdit({ edit: "trim_out", shots: [before.id] }, -far),
      e: () => before && void nudgeEdit({ edit: "trim_out", shots: [before.id] }, far),
      z: () => void nudgeEdit({ edit: "trim_in", shots: [shot.id] }, -far),
      c: () => void nudgeEdit({ edit: "trim_in", shots: [shot.id] }, far),
      "<": () => void nudgeEdit({ edit: "sound", shots: [shot.id] }, -far),
      ">": () => void nudgeEdit({ edit: "sound", shots: [shot.id] }, far),
      ",": () => void nudgeEdit({ edit: "sound", shots: [shot.id] }, -far),
      ".": () => void nudgeEdit({ edit: "sound", shots: [shot.id] }, far),
      o: () => void dissolve(shot),
    };
    if (!does[name]) return;
    does[name]?.();
    e.preventDefault();
  };

  return (
    <button
      type="button"
      className={`absolute top-0 z-2 size-2.5 -translate-x-1/2 rotate-45 cursor-col-resize border border-ink/60 focus-visible:bg-slate ${on ? "bg-slate" : hangs ? "bg-ochre" : "bg-sheet hover:bg-slate-wash"}`}
      style={{ left: xOf(along, at) }}
      tabIndex={stop ? 0 : -1}
      data-joint={shot.id}
      aria-label={`The cut to ${shot.name}`}
      title={`The cut to ${shot.name}${hangs ? `, hangs on ${hangs}` : ""}. Drag to roll it. With the keyboard on it: A, D roll it; Q, E move the end before it; Z, C the beginning after it; , . where the sound changes; P plays over it; O dissolves; ← → to the next cut. Drag with Shift to move the picture alone.`}
      onFocus={() => take(true)}
      onBlur={() => take(false)}
      onKeyDown={key}
      {...hold(() => {
        const { before } = besides(shot);
        return dragEdges(
          {
            edit: (hand) => ({ edit: "roll", shots: [shot.id], picture_alone: hand.shift }),
            at,
            spots: () => [
              { from: shot.stage.first, spots: stageSpots(shot) },
              ...(before ? [{ from: before.stage.last + 1, spots: stageSpots(before) }] : []),
              { from: at, spots: cutSpots([shot.id]) },
            ],
            edges: (by) => [...edgeOf(before, "last", by), ...edgeOf(shot, "first", by)],
          },
          along.ppf,
        );
      })}
    />
  );
}

/** Two shots mixed over some frames: its ends are dragged. */
export function Dissolve({ shot, at, low }: { shot: Shot; at: number; low: boolean }) {
  const along = useAlong();
  const hold = useFrameHold();
  const [before, after] = shot.dissolve ?? [0, 0];
  const drag = (end: 0 | 1) =>
    hold(() => {
      const was = shot.dissolve ?? [0, 0];
      const frames = (by: number): [number, number] =>
        end === 0 ? [Math.max(was[0] - by, 0), was[1]] : [was[0], Math.max(was[1] + by, 0)];
      return dragFrames({
        edit: (by) => ({ edit: "dissolve", shots: [shot.id], frames: frames(by) }),
        says: (by) => `dissolve ${frames(by).join(" + ")} f`,
        at: (by) => (end ? at + frames(by)[1] : at - frames(by)[0]),
      });
    });
  return (
    <div
      className={`absolute z-1 rounded-[3px] border border-slate bg-sheet/70 ${low ? "bottom-0.5 h-2.5" : "bottom-1 h-4"}`}
      style={{
        left: xOf(along, at - before),
        width: Math.max((before + after) * along.ppf, 4),
      }}
      title={`Dissolve to ${shot.name}: ${before} f before the cut, ${after} f after. Drag its ends.`}
      data-dissolve={shot.name}
    >
      <svg
        className="absolute inset-0 size-full"
        preserveAspectRatio="none"
        viewBox="0 0 1 1"
        aria-hidden="true"
      >
        <path
          d="M0 0L1 1M0 1L1 0"
          className="fill-none stroke-slate"
          strokeWidth="1.5"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {([0, 1] as const).map((end) => (
        <div
          key={end}
          className={`absolute inset-y-0 w-1.5 cursor-ew-resize ${end ? "-right-0.5" : "-left-0.5"}`}
          data-dissolve-end={`${shot.name}-${end ? "after" : "before"}`}
          {...drag(end)}
        />
      ))}
    </div>
  );
}
