import { MathUtils, type PerspectiveCamera, Vector3 } from "three";
import type { CameraColumn } from "../api/types";
import { otherNow, useAgainst } from "../store/against";
import { useDocument } from "../store/document";
import { asShot } from "../store/dressing";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { ROVER_ANGLE, roverPlace } from "../store/rover";
import { cameraColumns, rowOf, samplesOf } from "../store/samples";
import { cameraRow, useUnsaved } from "../store/unsaved";
import { cameraSeen, insetCamera, useView } from "../store/view";
import { mixNow } from "./mixing";
import { onWall, wallBoxes, wallIsUp } from "./wall";

/** What the lens does to a drawing, as the core worked it out. */
export interface Glass {
  /** Half the opening, metres, across and up; the drawing adds up from points inside it. */
  across: number;
  up: number;
  /** Reciprocals in 1/m of the focus and of where sharpness begins and ends. */
  focus: number;
  sharpNear: number;
  sharpFar: number;
  blades: number;
  gain: number;
}

/** One view of the stage: through the rover (no row), or through a camera's row of samples. */
export interface Sight {
  row: ArrayLike<number> | null;
  blades: number;
  /** How much more than the delivery frame is drawn, each way. */
  over: [number, number];
  /** Whose heads are not in it: those through whose eyes it looks. */
  without: string[];
  /** The stage frame it shows, where that is not the moment's. */
  frame?: number;
  /** Of a picture that is mixed: how many frames later than the moment it is, and how much it counts. */
  later?: number;
  weight?: number;
  /** The shot it is of, where the picture is mixed. */
  shot?: string | null;
  /** Where on the picture, in shares of it from the lower left. */
  box: [number, number, number, number];
}

function turnTo(eye: PerspectiveCamera, pan: number, tilt: number, roll: number): void {
  eye.rotation.set(MathUtils.degToRad(tilt), MathUtils.degToRad(pan), MathUtils.degToRad(roll), "YXZ");
}

/** Things in this layer are seen by the rover alone. */
export const MARKS = 5;

const WHOLE: Sight["box"] = [0, 0, 1, 1];

/** How much more than the delivery frame the picture shows, and where the film back's edge is, in frames. */
export function overscan(): { over: [number, number]; back: [number, number] } | null {
  const seen = cameraSeen();
  const facts = seen ? samplesOf(seen)?.facts : null;
  if (!facts || !useView.getState().looks.outside) return null;
  const back = facts.back_over_gate as [number, number];
  return { over: [Math.max(back[0], 1), Math.max(back[1], 1)], back };
}

const GAP = 0.012;

/** Where each of some pictures of an aspect lies, side by side in a room. */
export function sideBySide(count: number, aspect: number, room: number): Sight["box"][] {
  // Under each picture there is room for what is said of it.
  const most = 0.7;
  const wide = Math.min((1 - GAP * (count + 1)) / count, (most * aspect) / room);
  const high = (wide * room) / aspect;
  const left = (1 - count * wide - GAP * (count - 1)) / 2;
  return Array.from({ length: count }, (_, i) => [
    left + i * (wide + GAP),
    1 - (1 - high) * 0.2 - high,
    wide,
    high,
  ]);
}

/** How long before and after the moment the shutter is open for what is seen, frames; none where nothing gathers it. */
export function openShutter(): [number, number] | null {
  const { looks, comparing, edges } = useView.getState();
  const seen = cameraSeen();
  // What a hand has put somewhere is there at one frame alone.
  if (
    !looks.motion ||
    comparing ||
    edges ||
    heldAgainst() ||
    !seen ||
    useUnsaved.getState().unsaved?.camera === seen
  )
    return null;
  const row = rowOf(seen, useMoment.getState().stage);
  const at = cameraColumns();
  return row && row[at.open_before] + row[at.open_after] > 0
    ? [row[at.open_before], row[at.open_after]]
    : null;
}

/** All that the picture shows at this moment, or at another within its open shutter. */
export function sights(aspect: number, room: number, within?: number): Sight[] {
  const { through, comparing, edges } = useView.getState();
  if (edges) {
    const boxes = sideBySide(edges.length, aspect, room);
    const { shown } = useDocument.getState();
    return edges.flatMap(({ camera, frame, shot: name }, i) => {
      const shot = shown?.shots.find((one) => one.name === name)?.id ?? null;
      const row = camera ? asShot(shot, () => rowOf(camera, frame)) : null;
      return camera && row ? [{ ...seenBy(camera, row, frame), box: boxes[i], frame, shot }] : [];
    });
  }
  if (comparing) {
    const boxes = sideBySide(comparing.found.length, aspect, room);
    const { camera, frame } = comparing;
    return comparing.found.map(({ row }, i) => ({ ...seenBy(camera, row, frame), box: boxes[i] }));
  }
  if (heldAgainst()) return besideSights(aspect, room, within);
  if (wallIsUp()) return wallSights(aspect, room, within);
  if (through === "rover") return [{ row: null, blades: 0, without: [], over: [1, 1], box: WHOLE }];
  const seen = cameraSeen();
  const { stage } = useMoment.getState();
  const over = overscan()?.over ?? [1, 1];
  const mix = mixNow();
  if (mix)
    return mix.parts.flatMap(({ camera, stage: at, weight, shot = null }) => {
      const later = at - stage;
      const row = asShot(shot, () => cameraRow(camera, (within ?? stage) + later));
      return row ? [{ ...seenBy(camera, row, at), over, later, weight, shot }] : [];
    });
  const row = seen ? cameraRow(seen, within ?? stage) : null;
  if (!seen || !row) return [];
  return [{ ...seenBy(seen, row, stage), over }];
}

/** Whether the cut is shown beside another one. */
export const heldAgainst = (): boolean =>
  useAgainst.getState().held !== null && useView.getState().through === "cut";

/** The picture of the cut, and beside it that of the cut it is held against, in step. */
function besideSights(aspect: number, room: number, within?: number): Sight[] {
  const boxes = sideBySide(2, aspect, room);
  const { stage, shot, gap } = useMoment.getState();
  const { shown } = useDocument.getState();
  const own = gap ? undefined : shown?.shots[shot];
  const off = (within ?? stage) - stage;
  const both = [own?.camera ? { shot: own.id, camera: own.camera, stage } : null, otherNow()];
  return both.flatMap((one, i) => {
    const row = one && asShot(one.shot, () => cameraRow(one.camera, one.stage + off));
    if (!one || !row) return [];
    return [{ ...seenBy(one.camera, row, one.stage), box: boxes[i], frame: one.stage, shot: one.shot }];
  });
}

/** Every camera's picture, what is on air first. */
function wallSights(aspect: number, room: number, within?: number): Sight[] {
  const { shown } = useDocument.getState();
  const { held, heldLater, wallRow } = useView.getState();
  const { stage } = useMoment.getState();
  const cameras = onWall(shown);
  const { wallColumns } = usePreferences.getState();
  // What is said under them is measured in pixels of the page.
  const high = wallHeight.pixels;
  const two = held.length === 2;
  const boxes = wallBoxes(cameras.length, aspect, high * room, high, two ? 0 : wallColumns, wallRow);
  const found = cameras.flatMap(({ id }, i) => {
    const later = two && i === 1 ? heldLater : 0;
    const row = cameraRow(id, (within ?? stage) + later);
    const box = boxes[i];
    return row && box ? [{ ...seenBy(id, row, stage + later), id, box, later }] : [];
  });
  const air = cameraSeen();
  const { shot, gap } = useMoment.getState();
  const own = gap || useView.getState().through !== "cut" ? undefined : shown?.shots[shot];
  return (
    found
      // What is on air is a picture of its shot, as that has it for itself.
      .map((one) => (one.id === air && own?.camera === air ? { ...one, shot: own.id } : one))
      .sort((a, b) => Number(b.id === air) - Number(a.id === air))
  );
}

/** How high the picture's room is, pixels of the page. */
export const wallHeight = { pixels: 400 };

/** What the small picture shows: the camera last chosen while the rover looks, else the rover. */
export function otherSight(): Sight | null {
  const { through, comparing, edges } = useView.getState();
  if (comparing || edges) return null;
  if (through !== "rover") return { row: null, blades: 0, without: [], over: [1, 1], box: WHOLE };
  const camera = insetCamera();
  const { stage } = useMoment.getState();
  const row = camera ? cameraRow(camera, stage) : null;
  if (!camera || !row) return null;
  return seenBy(camera, row, stage);
}

/** The whole picture through a camera, by its row at a frame. */
export const seenBy = (camera: string, row: ArrayLike<number>, frame: number): Sight => ({
  row, blades: bladesOf(camera), without: ownHeads(camera, frame), over: [1, 1], box: WHOLE,
}); // biome-ignore format: one look

/** Through whose eyes a camera looks at a frame. */
function ownHeads(camera: string, frame: number): string[] {
  const eyes = (samplesOf(camera)?.facts.eyes ?? []) as [string, number, number][];
  return eyes.filter(([, first, last]) => first <= frame && frame <= last).map(([figure]) => figure);
}

/** How far the sun has gone round with a sight's camera, degrees. */
export const sunTurn = (sight: Sight): number => (sight.row ? sight.row[cameraColumns().sun_turn_deg] : 0);

const bladesOf = (camera: string) => (samplesOf(camera)?.facts.blades as number) ?? 0;

/** Stand the drawing's eye at a sight, and say what the lens there does; null without a lens. */
export function stand(eye: PerspectiveCamera, sight: Sight, wide: number, high: number): Glass | null {
  const { row, over } = sight;
  // Marks for whoever stages are on no film.
  if (row || useView.getState().bare) eye.layers.disable(MARKS);
  else eye.layers.enable(MARKS);
  if (!row) {
    const { rover } = useView.getState();
    const { x, y, z } = roverPlace(rover);
    eye.position.set(x, y, z);
    turnTo(eye, rover.bearing, -rover.height, 0);
    eye.near = 0.05;
    eye.far = 2400;
    eye.fov = ROVER_ANGLE;
    eye.aspect = wide / Math.max(high, 1);
    eye.updateProjectionMatrix();
    eye.updateMatrixWorld();
    return null;
  }
  const at = cameraColumns();
  const of = (name: CameraColumn) => row[at[name]];
  eye.position.set(of("x"), of("y"), of("z"));
  turnTo(eye, of("pan"), of("tilt"), of("roll"));
  eye.near = of("near_m");
  eye.far = of("far_m");
  const across = Math.tan(MathUtils.degToRad(of("horizontal_deg") / 2)) * over[0];
  const upright = Math.tan(MathUtils.degToRad(of("vertical_deg") / 2)) * over[1];
  eye.fov = 2 * MathUtils.radToDeg(Math.atan(upright));
  eye.aspect = across / upright;
  eye.updateProjectionMatrix();
  eye.updateMatrixWorld();
  return {
    across: of("pupil_across_m"),
    up: of("pupil_up_m"),
    focus: of("focus_per_m"),
    sharpNear: of("sharp_near_per_m"),
    sharpFar: of("sharp_far_per_m"),
    blades: sight.blades,
    gain: of("gain"),
  };
}

const RIGHT = new Vector3();
const UP = new Vector3();

/**
 * Move the eye within the opening, and slant its view so that what is in focus stays where it was:
 * the mean over the opening is the picture a thin lens makes.
 */
export function through(eye: PerspectiveCamera, glass: Glass, x: number, y: number): void {
  RIGHT.setFromMatrixColumn(eye.matrixWorld, 0);
  UP.setFromMatrixColumn(eye.matrixWorld, 1);
  const [dx, dy] = [x * glass.across, y * glass.up];
  eye.position.addScaledVector(RIGHT, dx).addScaledVector(UP, dy);
  const m = eye.projectionMatrix.elements;
  m[8] -= m[0] * dx * glass.focus;
  m[9] -= m[5] * dy * glass.focus;
  eye.updateMatrixWorld();
}

/** Shift the view by part of a pixel, for smooth edges. */
export function nudge(eye: PerspectiveCamera, x: number, y: number, wide: number, high: number): void {
  eye.projectionMatrix.elements[8] += (2 * x) / wide;
  eye.projectionMatrix.elements[9] += (2 * y) / high;
}
