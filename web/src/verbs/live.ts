import { useDocument } from "../store/document";
import { type Run, useLive } from "../store/live";
import { lastRun, playedSince, useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { cutTable } from "../store/samples";
import { send } from "../store/sending";
import { complain, notice, useView } from "../store/view";

/** Whether a letter cuts now: the cut is watched, and plays forwards. */
export const cutsLive = (): boolean => {
  const { playing, clock } = useMoment.getState();
  return playing && clock === "cut" && (lastRun()?.speed ?? 0) > 0 && useView.getState().through === "cut";
};

/** Cut to a camera at the time of a press; the run begins with the first of them. */
function pressLive(camera: { id: string; letter: string }, stamp: number): void {
  const since = playedSince(stamp);
  const table = cutTable();
  if (!since || !table) return;
  const { run } = useLive.getState();
  const { speed, loop } = useMoment.getState();
  const { scene } = useDocument.getState();
  const opens = scene?.shots[table.shot[since.start]]?.camera;
  const letter = scene?.cameras.find((one) => one.id === opens)?.letter;
  const begun: Run = run ?? {
    start: since.start,
    to: loop?.clock === "cut" ? loop.last : table.length - 1,
    // What it opens on, so that the run is the same over whatever is cut meanwhile.
    presses: letter ? [[0, letter]] : [],
    speed,
  };
  useLive.setState({
    run: { ...begun, presses: [...begun.presses, [since.seconds, camera.letter]] },
    camera: camera.id,
  });
}

/** The run is over: what was pressed in it, up to where it stopped. */
function endRun(cut: number): Run | null {
  const { run } = useLive.getState();
  if (!run) return null;
  useLive.setState({ run: null, camera: null });
  // Stopped by hand it ends there: what comes later does not change.
  return { ...run, to: Math.min(run.to ?? cut, Math.max(cut, run.start)) };
}

/** Lay a run over the cut; one that cannot be laid is kept on the desk. */
export async function layRun(run: Run): Promise<boolean> {
  const { reaction: delay, shortest } = usePreferences.getState();
  const { start, to, presses, speed } = run;
  const problem = await send({
    kind: "cut.edit",
    do: { edit: "live", start, to, presses, speed, delay, shortest },
  });
  useLive.setState({ refused: problem ? run : null });
  complain(problem);
  return !problem;
}

/** Cut to a camera now, while the cut plays. */
export function cutLive(id: string, stamp = performance.now()): void {
  const camera = useDocument.getState().scene?.cameras.find((one) => one.id === id);
  if (camera) pressLive(camera, stamp);
}

async function finish(cut: number): Promise<void> {
  const run = endRun(cut);
  if (!run) return;
  if (await layRun(run))
    notice("The run was laid over the cut.", "Undo takes it back; it is kept under Cut live.", false);
}

/** Runs end where playing stops, or goes round. */
export function watchLive(): () => void {
  useLive.setState({ run: null, camera: null, refused: null });
  return useMoment.subscribe((now, was) => {
    const round = now.playing && now.clock === "cut" && now.cut < was.cut;
    if (was.playing && !now.playing) void finish(was.cut);
    // Gone round, it was played to its end, whichever frames were shown of that.
    else if (round) void finish(Number.POSITIVE_INFINITY);
  });
}
