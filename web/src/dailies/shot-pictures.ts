import { create } from "zustand";
import { useDocument } from "../store/document";
import { openDrawer } from "./drawer";

interface Wanted {
  shot: string;
  camera: string;
  stage: number;
}

/** Small pictures of shots' first frames, as addresses of what was drawn here. */
export const useShotPictures = create<{ of: Record<string, string> }>(() => ({ of: {} }));

const HIGH = 180;
let underWay: AbortController | null = null;
let drawnFor = "";

/** Have the first frame of each shot drawn, out of sight, one after the other. */
export async function shotPictures(scene: number, revision: number, shots: Wanted[]): Promise<void> {
  // The same stage, shots and frames: the same pictures.
  const mark = `${scene} ${revision} ${shots.map((one) => `${one.shot}@${one.stage}`).join()}`;
  if (mark === drawnFor || !shots.length) return;
  drawnFor = mark;
  underWay?.abort();
  const mine = new AbortController();
  underWay = mine;
  const aspect = useDocument.getState().scene?.delivery.aspect ?? 16 / 9;
  try {
    const one = await openDrawer(scene, Math.round(HIGH * aspect), HIGH, mine.signal);
    for (const { shot, camera, stage } of shots) {
      const picture = await one.draw(camera, stage, { quality: "quick" }, () => {});
      if (mine.signal.aborted) return;
      useShotPictures.setState(({ of }) => {
        if (of[shot]) URL.revokeObjectURL(of[shot]);
        return { of: { ...of, [shot]: URL.createObjectURL(picture) } };
      });
    }
    one.close();
  } catch {
    // Without pictures the list is still a list; with the next change they are tried again.
    if (!mine.signal.aborted) drawnFor = "";
  }
}
