import type { Scene } from "../api/types";
import { useMoment } from "../store/moment";
import { cameraColumns, rowOf, useVersions } from "../store/samples";
import { ahead, type Point, type Space, toSheet } from "../store/space";
import { cameraRow, useUnsaved } from "../store/unsaved";
import { useView } from "../store/view";

/** How large a letter stands on the plan, and a name, pixels. */
const BADGE = 23;
const LETTER = 7;
const LINE = 15;
/** The words “on air”, and where they may stand from a letter, pixels. */
const AIR = { w: 36, h: LINE };
const AIR_AT: Point[] = [
  [0, 23],
  [0, -25],
  [-36, 0],
  [36, 0],
];

interface Boxed {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A letter that is moved aside goes no farther than this from its camera, pixels. */
const FARTHEST = 40;
/** A figure is pressed within this of its middle, pixels: no letter lies there. */
const PERSON = 20;
/** A point of a walk, pixels across. */
const HANDLE = 14;

const meets = (a: Boxed, b: Boxed) =>
  Math.abs(a.x - b.x) < (a.w + b.w) / 2 && Math.abs(a.y - b.y) < (a.h + b.h) / 2;

export interface Places {
  /** Where each camera's letter stands: at the camera, or behind it where another's is. */
  letters: Map<string, Point>;
  /** Where “on air” would stand from each letter: where nothing else is. */
  airs: Map<string, Point>;
  /** Where each figure's name stands from the figure. */
  names: Map<string, Point>;
}

let kept: { of: unknown[]; places: Places } | null = null;

/** Places for all that is written on the plan, so that nothing lies on anything. */
export function placed(scene: Scene, frame: number, space: Space): Places {
  const { shot, gap } = useMoment.getState();
  const { ids } = useView.getState();
  const from = [
    frame,
    space,
    scene,
    shot,
    gap,
    useVersions.getState().of,
    useUnsaved.getState().unsaved,
    ids,
  ];
  if (kept?.of.every((part, i) => part === from[i])) return kept.places;
  const of = cameraColumns();
  const people: Boxed[] = scene.figures.flatMap((figure) => {
    const row = rowOf(figure.id, frame);
    if (!row) return [];
    const [x, y] = toSheet(space, row[0], row[2]);
    return [{ x, y, w: PERSON, h: PERSON }];
  });
  const taken: Boxed[] = [...people];
  const letters = new Map<string, Point>();
  for (const camera of scene.cameras) {
    const row = camera.hidden ? null : cameraRow(camera.id, frame);
    if (!row) continue;
    const [x, y] = toSheet(space, row[of.x], row[of.z]);
    const [dx, dy] = ahead(row[of.pan]);
    const at = (px: number, py: number): Boxed => ({ x: px, y: py, w: BADGE, h: BADGE });
    const free = (box: Boxed) => !taken.some((other) => meets(other, box));
    // Where the camera is, else straight behind it, else anywhere round it: the nearest that is free.
    const ways = [12, 24, 32, FARTHEST].flatMap((far) =>
      [0, 45, -45, 90, -90, 135, -135, 180].map((turn) => {
        const a = (turn * Math.PI) / 180;
        const [bx, by] = [-dx * Math.cos(a) + dy * Math.sin(a), -dx * Math.sin(a) - dy * Math.cos(a)];
        return at(x + bx * far, y + by * far);
      }),
    );
    // With none free it stays at its camera, unless somebody stands there.
    const offPeople = (box: Boxed) => !people.some((other) => meets(other, box));
    const spots = [at(x, y), ...ways];
    const spot = spots.find(free) ?? spots.find(offPeople) ?? spots[0];
    taken.push(spot);
    letters.set(camera.id, [spot.x, spot.y]);
  }
  const airs = new Map<string, Point>();
  const onAir = gap ? undefined : scene.shots[shot]?.camera;
  for (const [camera, [x, y]] of letters) {
    const free = AIR_AT.find(
      ([dx, dy]) => !taken.some((box) => meets(box, { ...AIR, x: x + dx, y: y + dy })),
    );
    const [dx, dy] = free ?? AIR_AT[0];
    airs.set(camera, [dx, dy]);
    if (camera === onAir) taken.push({ ...AIR, x: x + dx, y: y + dy });
  }
  // Points of a walk that can be dragged are not written over.
  for (const figure of scene.figures.filter(({ id }) => ids.includes(id)))
    for (const [px, pz] of figure.acts.flatMap((act) => ("points" in act ? act.points : []))) {
      const [x, y] = toSheet(space, px, pz);
      taken.push({ x, y, w: HANDLE, h: HANDLE });
    }
  const names = new Map<string, Point>();
  for (const figure of scene.figures) {
    const row = rowOf(figure.id, frame);
    if (!row) continue;
    const [x, y] = toSheet(space, row[0], row[2]);
    const half = Math.max(figure.stature * 0.13 * space.scale, 6);
    const w = figure.name.length * LETTER + 4;
    const ways: Point[] = [
      [0, half + 12],
      [half + w / 2 + 4, 2],
      [-half - w / 2 - 4, 2],
      [0, -half - 12],
      [half + w / 2, half + 10],
      [-half - w / 2, half + 10],
      [half + w / 2, -half - 10],
      [-half - w / 2, -half - 10],
      [0, half + 26],
    ];
    const free = ways.find(
      ([dx, dy]) => !taken.some((box) => meets(box, { x: x + dx, y: y + dy, w, h: LINE })),
    );
    const [dx, dy] = free ?? ways[0];
    taken.push({ x: x + dx, y: y + dy, w, h: LINE });
    names.set(figure.id, [dx, dy]);
  }
  const places = { letters, airs, names };
  kept = { of: from, places };
  return places;
}
