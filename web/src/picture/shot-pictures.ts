import { useEffect } from "react";
import { create } from "zustand";
import { boardUrl } from "../api/client";
import type { Scene, Shot } from "../api/types";
import { useDocument } from "../store/document";
import { useVersion } from "../store/samples";
import { useView } from "../store/view";
import { redrawIdle } from "./renderer/redraw";

const HIGH = 180;

/** A shot whose first frame is to be drawn. */
export interface WantedShot {
  shot: string;
  camera: string;
  frame: number;
  /** All that its picture depends on. */
  mark: string;
}

/** Small pictures of shots' first frames, by the ids of the shots: addresses, and what each was drawn of. */
export const useShotPictures = create<{
  of: Record<string, { url: string; mark: string }>;
  /** A sheet of them is being made: they are drawn, even where none are shown otherwise. */
  onSheet: boolean;
}>(() => ({ of: {}, onSheet: false }));
const waiting = new Map<string, WantedShot>();

const ids = new WeakMap<object, number>();
let counted = 0;
/** A number for a part of a document; a change of it makes another one. */
function idOf(part: object): number {
  const known = ids.get(part) ?? ++counted;
  ids.set(part, known);
  return known;
}

let stage: { scene: Scene; keys: Record<string, string>; mark: string } | null = null;

/** What all pictures depend on beside their cameras. */
function stageMark(scene: Scene, keys: Record<string, string>): string {
  if (stage?.scene === scene && stage.keys === keys) return stage.mark;
  const others = [...scene.figures, ...scene.movers].flatMap(({ id }) => [keys[id], keys[`shape:${id}`]]);
  const parts = [scene.pieces, scene.figures, scene.movers, scene.surround, scene.delivery].map(idOf);
  stage = { scene, keys, mark: [...parts, ...others].join() };
  return stage.mark;
}

function markOf(scene: Scene, keys: Record<string, string>, shot: Shot): string {
  const own = shot.own.length ? [idOf(shot.own), keys[`own:${shot.id}:${shot.camera}`]] : [];
  return [shot.camera, keys[shot.camera ?? ""], shot.stage.first, ...own, stageMark(scene, keys)].join();
}

/** The address of a shot's picture: of its first frame, else of its board. It is drawn when the desk has time. */
export function useShotPicture(shot: Shot | undefined): string | undefined {
  const shows = useView((s) => s.looks.stills);
  const wanted = useShotPictures((s) => s.onSheet) || shows;
  const known = useShotPictures((s) => (shot && wanted ? s.of[shot.id] : undefined));
  // While a hand tries something the pictures stay as they are.
  const mark = useDocument((s) =>
    wanted && shot?.camera && s.scene && !s.overlay ? markOf(s.scene, s.keys, shot) : null,
  );
  const version = useVersion(shot?.camera ?? "");
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again once its camera's samples are here
  useEffect(() => {
    if (!mark || !shot?.camera || useShotPictures.getState().of[shot.id]?.mark === mark) return;
    const { id, camera, stage: at } = shot;
    waiting.set(id, { shot: id, camera, frame: at.first, mark });
    redrawIdle();
    return () => {
      waiting.delete(id);
    };
  }, [mark, version]);
  if (shot && !shot.camera) return shot.board ? boardUrl(shot.board) : undefined;
  return known?.url;
}

/** Whether a picture of a shot is waited for. */
export const shotsWait = (): boolean => waiting.size > 0 && !useDocument.getState().overlay;

/** Have the next one that is waited for drawn, by whoever can, and keep it; a shot that cannot be drawn now is let go. */
export function drawNextShot(draw: (wanted: WantedShot, sheet: HTMLCanvasElement) => boolean): void {
  const wanted = waiting.values().next().value;
  if (!wanted) return;
  waiting.delete(wanted.shot);
  const sheet = document.createElement("canvas");
  const aspect = useDocument.getState().scene?.delivery.aspect ?? 16 / 9;
  [sheet.width, sheet.height] = [Math.round(HIGH * aspect), HIGH];
  if (!draw(wanted, sheet)) return;
  sheet.toBlob(
    (content) => {
      if (!content) return;
      const picture = { url: URL.createObjectURL(content), mark: wanted.mark };
      useShotPictures.setState(({ of }) => {
        if (of[wanted.shot]) URL.revokeObjectURL(of[wanted.shot].url);
        return { of: { ...of, [wanted.shot]: picture } };
      });
    },
    "image/jpeg",
    0.85,
  );
}
