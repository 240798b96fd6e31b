import { create } from "zustand";
import type { Scene } from "../api/types";
import { standingPieces } from "./parts";
import { usePreferences } from "./preferences";

/** Which part of the floor the plan shows: its middle in metres, pixels for a metre, and its size in pixels. */
export interface Space {
  cx: number;
  cz: number;
  scale: number;
  width: number;
  height: number;
  /** It was brought back as it was left: it need not be fitted to the scene. */
  recalled: boolean;
}

export const useSpace = create<Space>(() => ({
  cx: 0,
  cz: 0,
  scale: 26,
  width: 300,
  height: 400,
  recalled: false,
}));

export type Point = [number, number];

/** Stage metres to plan pixels; −Z is up the sheet. */
export const toSheet = (s: Space, x: number, z: number): Point => [
  s.width / 2 + (x - s.cx) * s.scale,
  s.height / 2 + (z - s.cz) * s.scale,
];

export const toStage = (s: Space, px: number, py: number): Point => [
  (px - s.width / 2) / s.scale + s.cx,
  (py - s.height / 2) / s.scale + s.cz,
];

export const snap = (n: number, free: boolean): number =>
  Math.round(n * (free ? 1000 : 20)) / (free ? 1000 : 20);

/** The way something faces on the sheet: heading 0 is up, positive turns left. */
export const ahead = (degrees: number): Point => {
  const a = (degrees * Math.PI) / 180;
  return [-Math.sin(a), -Math.cos(a)];
};

/** The heading, degrees, of a direction on the stage. */
export const headingOf = (dx: number, dz: number): number => (Math.atan2(-dx, -dz) * 180) / Math.PI;

/** Have a place in sight: where it is not, show all that is staged. */
export function reveal(scene: Scene, x: number, z: number): void {
  const s = useSpace.getState();
  const [px, py] = toSheet(s, x, z);
  if (px < 0 || py < 0 || px > s.width || py > s.height) fit(scene);
}

/** How much of the plan's lower edge is taken, pixels. */
const UNDER = { picture: 128, buttons: 50 };

/** Show all that is staged: figures, where they walk, and cameras; else the set. */
export function fit(scene: Scene): void {
  const points: Point[] = [];
  for (const f of scene.figures) {
    points.push([f.x, f.z]);
    for (const act of f.acts) if (act.kind === "walk" || act.kind === "run") points.push(...act.points);
  }
  for (const c of scene.cameras)
    points.push([c.x.keys[0]?.value ?? c.x.rest, c.z.keys[0]?.value ?? c.z.rest]);
  if (points.length === 0) for (const p of standingPieces(scene.pieces)) points.push([p.x, p.z]);
  if (points.length === 0) {
    useSpace.setState({ cx: 0, cz: 0, scale: 30 });
    return;
  }
  const xs = points.map((p) => p[0]);
  const zs = points.map((p) => p[1]);
  const around = 3;
  const [x0, x1] = [Math.min(...xs) - around, Math.max(...xs) + around];
  const [z0, z1] = [Math.min(...zs) - around, Math.max(...zs)];
  const { width, height } = useSpace.getState();
  // Nothing that is staged lies under the small picture or the row of buttons.
  const under = usePreferences.getState().inset ? UNDER.picture : UNDER.buttons;
  const scale = Math.min(width / (x1 - x0), Math.max(height - under, 60) / (z1 - z0), 90);
  useSpace.setState({ cx: (x0 + x1) / 2, cz: z0 + height / 2 / scale, scale });
}
