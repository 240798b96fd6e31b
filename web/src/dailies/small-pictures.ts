import { create } from "zustand";
import { openDrawer } from "../picture/drawer";
import { useDocument } from "../store/document";

/** A frame of a camera that is to be drawn small, and what its picture is called by. */
export interface Wanted {
  name: string;
  camera: string;
  stage: number;
  /** The revision that is drawn; left out, the scene as it is. */
  at?: number;
}

const HIGH = 180;

/** A set of small pictures, drawn out of sight one after the other; of each set one at a time is under way. */
export function smallPictures() {
  const usePictures = create<{ of: Record<string, string> }>(() => ({ of: {} }));
  let underWay: AbortController | null = null;
  let drawnFor = "";

  /** Have frames of a scene drawn; the same stage and frames are the same pictures. */
  async function draw(scene: number, revision: number, wanted: Wanted[]): Promise<void> {
    const mark = `${scene} ${revision} ${wanted.map((one) => `${one.name}@${one.stage}`).join()}`;
    if (mark === drawnFor || !wanted.length) return;
    drawnFor = mark;
    underWay?.abort();
    const mine = new AbortController();
    underWay = mine;
    const aspect = useDocument.getState().scene?.delivery.aspect ?? 16 / 9;
    const revisions = [...new Set(wanted.map((one) => one.at))];
    try {
      for (const at of revisions) {
        const one = await openDrawer(scene, Math.round(HIGH * aspect), HIGH, mine.signal, at);
        for (const { name, camera, stage } of wanted.filter((frame) => frame.at === at)) {
          const picture = await one.draw(camera, stage, { quality: "quick" }, () => {});
          if (mine.signal.aborted) return;
          usePictures.setState(({ of }) => {
            if (of[name]) URL.revokeObjectURL(of[name]);
            return { of: { ...of, [name]: URL.createObjectURL(picture) } };
          });
        }
        one.close();
      }
    } catch {
      // Without pictures the list is still a list; with the next change they are tried again.
      if (!mine.signal.aborted) drawnFor = "";
    }
  }

  return { usePictures, draw };
}
