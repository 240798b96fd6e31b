import { itemOf, useDocument } from "../store/document";
import { channelsOf } from "../store/keys";
import { go, lastRun, loopRange, pause, play, useMoment } from "../store/moment";
import { cutTable, placedShots } from "../store/samples";
import { send } from "../store/sending";
import { cameraSeen, complain, notice, scrubCut, scrubStage, select, useView } from "../store/view";
import { newId } from "./new-id";

/** Play as it is, half as fast, a quarter as fast, and round again; what plays goes on so. */
export function nextSpeed(): void {
  const { speed, playing } = useMoment.getState();
  useMoment.setState({ speed: speed === 1 ? 0.5 : speed === 0.5 ? 0.25 : 1 });
  if (!playing) return;
  const way = (lastRun()?.speed ?? 1) < 0 ? -1 : 1;
  pause();
  play(way);
}

/** To the first frame of the next shot of the cut, or the last one's, and loop it. */
export function goShot(by: 1 | -1): void {
  const shots = placedShots();
  if (!shots.length) {
    notice("There are no shots in the cut yet.", "Put a camera on the assembly first.", false);
    return;
  }
  const { cut } = useMoment.getState();
  const { through } = useView.getState();
  const at = shots.findIndex((shot) => cut <= shot.cut_last);
  // Whoever does not watch the cut begins with the shot that is meant by the clock.
  const now = at < 0 ? shots.length - 1 : at;
  goToShot(through === "cut" ? now + by : now);
}

/** To a shot's first frame, and loop it. */
export function goToShot(index: number): void {
  const shot = placedShots()[index];
  if (!shot) {
    notice("No more shots that way.", "", false);
    return;
  }
  const { playing } = useMoment.getState();
  pause();
  scrubCut(shot.cut_first);
  select("shot", [shot.id]);
  loopRange({ first: shot.cut_first, last: shot.cut_last });
  if (playing) play();
}

/** The camera or mover that is meant: the selected one, else the camera that is looked through. */
function meant() {
  const { kind, ids } = useView.getState();
  const { scene } = useDocument.getState();
  const id = kind === "camera" || kind === "mover" ? ids[0] : cameraSeen();
  return itemOf(scene, "cameras", id ?? null) ?? itemOf(scene, "movers", id ?? null);
}

function keyFrames(): number[] {
  const thing = meant();
  if (!thing) return [];
  const frames = new Set(channelsOf(thing).flatMap(([, channel]) => channel.keys.map((k) => k.frame)));
  if ("focus" in thing) for (const mark of thing.focus.marks) frames.add(mark.frame);
  return [...frames].sort((a, b) => a - b);
}

function along(frames: number[], from: number, by: 1 | -1): number | undefined {
  return by > 0 ? frames.find((f) => f > from) : [...frames].reverse().find((f) => f < from);
}

/** To the next key of what is chosen, or the last one. */
export function goKey(by: 1 | -1): void {
  const to = along(keyFrames(), useMoment.getState().stage, by);
  if (to !== undefined) scrubStage(to);
  else
    notice(
      meant() ? "No more keys that way." : "Nothing with keys is chosen.",
      "Select a camera or a mover.",
      false,
    );
}

/** To the next cue, or the last one. */
export function goCue(by: 1 | -1): void {
  const cues = useDocument.getState().scene?.cues ?? [];
  const to = along(
    cues.map((c) => c.frame),
    useMoment.getState().stage,
    by,
  );
  if (to !== undefined) scrubStage(to);
  else notice("No more cues that way.", "J sets one at the playhead.", false);
}

/** To the next cut, or the last one. */
export function goCutPoint(by: 1 | -1): void {
  const shots = cutTable()?.shots ?? [];
  const { cut } = useMoment.getState();
  const starts = shots.map((s) => s.cut_first);
  const to = along(starts, cut, by);
  if (to !== undefined) scrubCut(to);
  else notice("No more cuts that way.", "", false);
}

/** Loop from the key before the playhead to the one after it. */
export function loopKeys(): void {
  const frames = keyFrames();
  const { stage, clock } = useMoment.getState();
  const first = [...frames].reverse().find((f) => f <= stage);
  const last = frames.find((f) => f > stage);
  if (first === undefined || last === undefined) {
    notice("The playhead is not between two keys.", "Select a camera and go between two of its keys.", false);
    return;
  }
  if (clock === "cut") scrubStage(stage);
  loopRange({ first, last });
  go(first);
}

/** Set a cue at the playhead; while it plays too. */
export async function setCue(): Promise<void> {
  const frame = useMoment.getState().stage;
  complain(await send({ kind: "cue.add", id: newId("cue"), frame }));
}
