import type { Scene } from "../api/types";
import { useDocument } from "./document";
import { useLive } from "./live";
import { useMoment } from "./moment";
import { applyPatch, dressed } from "./patch";
import { dressBy } from "./samples";
import { useView } from "./view";

let asked: string | null | undefined;

/** Do something for a picture of a shot (null: of none), whatever the desk shows. */
export function asShot<T>(shot: string | null, work: () => T): T {
  const was = asked;
  asked = shot;
  try {
    return work();
  } finally {
    asked = was;
  }
}

/** Have all pictures from now on be of a shot, or of none. */
export function drawAsShot(shot: string | null): void {
  asked = shot;
}

/** The shot that the picture is of, so that what it has for itself is seen; null where the picture is of the stage. */
export function shotDrawn(): string | null {
  if (asked !== undefined) return asked;
  const { dress, shown } = useDocument.getState();
  const { through, wall } = useView.getState();
  // In the cut each shot is seen as it is, whichever is dressed.
  if (through !== "cut" || wall || useLive.getState().camera) return dress;
  return shown?.shots[useMoment.getState().shot]?.id ?? null;
}

let last: { scene: Scene; patch: unknown; tried: Scene } | null = null;

/** The stage with the drag in hand, as no shot has it. */
function stageShown(): Scene | null {
  const { scene, overlay } = useDocument.getState();
  if (!scene || !overlay) return scene;
  if (last?.scene !== scene || last.patch !== overlay.patch)
    last = { scene, patch: overlay.patch, tried: applyPatch(scene, overlay.patch) };
  return last.tried;
}

/** The scene that the picture is drawn from. */
export function sceneDrawn(): Scene | null {
  const { dress, shown } = useDocument.getState();
  const shot = shotDrawn();
  if (shot === dress) return shown;
  const stage = dress ? stageShown() : shown;
  return stage && shot ? dressed(stage, shot) : stage;
}

dressBy(shotDrawn);
