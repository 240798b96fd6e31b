import { create } from "zustand";
import type { Scene } from "../api/types";
import { useAgainst } from "../store/against";
import { useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { useProposed } from "../store/proposed";
import { useView } from "../store/view";

/** Of how many frames a picture of the wall that is not on air shows one, while it plays. */
export const useWallPace = create<{ every: number }>(() => ({ every: 1 }));

/** The cameras that the server named for what the wall is of, where it is of a shot or a figure. */
export const useWallFound = create<{ ids: string[] | null }>(() => ({ ids: null }));

type Box = [number, number, number, number];

/** Pixels between pictures, and under each for what is said of it. */
const APART = 8;
export const SAID = 24;

/** The cameras whose pictures are on the wall, in order. */
export function onWall(scene: Scene | null): Scene["cameras"] {
  if (!scene) return [];
  const { ids: proposed } = useProposed.getState();
  if (proposed.length) return scene.cameras.filter((one) => proposed.includes(one.id));
  const { wallOf } = usePreferences.getState();
  const { kind, ids, held } = useView.getState();
  if (held.length === 2) return held.flatMap((id) => scene.cameras.filter((one) => one.id === id));
  const { ids: found } = useWallFound.getState();
  const used = new Set(scene.shots.map((shot) => shot.camera));
  const shown = scene.cameras.filter((camera) => {
    if (wallOf === "cut") return used.has(camera.id);
    if (wallOf === "chosen") return kind === "camera" && ids.includes(camera.id);
    return wallOf === "all" || found?.includes(camera.id);
  });
  return shown.length ? shown : scene.cameras;
}

/**
 * Where each of some pictures lies in a room of pixels, in shares from its lower left: in as many columns as make them
 * largest, or as asked for. Rows that do not fit are left out, from a first row on.
 */
export function wallBoxes(
  count: number,
  aspect: number,
  wide: number,
  high: number,
  columns: number,
  row = 0,
): (Box | null)[] {
  const size = (n: number) => {
    const rows = Math.ceil(count / n);
    const across = (wide - APART * (n + 1)) / n;
    return Math.max(Math.min(across, ((high - APART * (rows + 1)) / rows - SAID) * aspect), 1);
  };
  let n = columns;
  if (!n) {
    n = 1;
    for (let tried = 2; tried <= count; tried++) if (size(tried) > size(n)) n = tried;
  }
  const w = columns ? (wide - APART * (n + 1)) / n : size(n);
  const h = w / aspect;
  const left = (wide - n * w - (n - 1) * APART) / 2;
  return Array.from({ length: count }, (_, i) => {
    const top = APART + (Math.floor(i / n) - row) * (h + SAID + APART);
    if (top < 0 || top + h > high) return null;
    return [(left + (i % n) * (w + APART)) / wide, 1 - (top + h) / high, w / wide, h / high];
  });
}

/** Whether every camera's picture is shown in place of one. */
export const wallIsUp = (): boolean => {
  const { wall, edges, comparing } = useView.getState();
  return (
    wall &&
    !edges &&
    !comparing &&
    !useAgainst.getState().held &&
    (useDocument.getState().shown?.cameras.length ?? 0) > 0
  );
};
