import { Suspense, useEffect, useState } from "react";
import { useDocument } from "../store/document";
import { goStage } from "../store/moment";
import { samplesOf } from "../store/samples";
import { openScene } from "../store/sending";
import { type Looks, useView } from "../store/view";
import { opening } from "../viewfinder/darkroom/opening";
import { fixPixelRatio, onDrawn, redraw } from "../viewfinder/darkroom/redraw";
import { Picture } from "../viewfinder/picture";

export type Quality = "quick" | "fine";

/** What the page that draws can be asked, by whoever opened it. */
export interface Draws {
  heronDraw?: (
    camera: string,
    stage: number,
    quality: Quality,
    progress?: (count: number, of: number) => void,
  ) => Promise<Blob>;
  heronProblem?: string;
}

const BARE = Object.fromEntries(Object.keys(useView.getState().looks).map((name) => [name, name === "blur"]));

const soon = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

async function until(true_: () => boolean, most: number): Promise<boolean> {
  for (let waited = 0; waited < most; waited += 40) {
    if (true_()) return true;
    await soon(40);
  }
  return true_();
}

/** A frame through a camera as a PNG: by the viewfinder's own drawing, with nothing over it. */
async function draw(
  camera: string,
  stage: number,
  quality: Quality,
  progress: (count: number, of: number) => void = () => {},
): Promise<Blob> {
  const ready = () => document.querySelector("canvas")?.dataset.ready === "true";
  if (!(await until(ready, 60_000))) throw new Error("The stage could not be drawn.");
  const blades = (samplesOf(camera)?.facts.blades as number) ?? 0;
  await until(() => opening(blades) !== null, 5000);
  useView.setState({
    through: { camera }, bare: true, looks: BARE as unknown as Looks, kind: null, ids: [], joint: null, edges: null, comparing: null,
  }); // biome-ignore format: one state of the picture
  goStage(stage);
  return new Promise((done, fail) => {
    const end = onDrawn((count, of) => {
      progress(count, of);
      if (quality === "quick" ? count > 0 : count < of || of === 0) return;
      end();
      // The canvas holds it until this frame of the page is over.
      document
        .querySelector("canvas")
        ?.toBlob(
          (made) => (made ? done(made) : fail(new Error("The picture could not be packed."))),
          "image/png",
        );
    });
    redraw(true);
  });
}

/** A page without a desk, of one picture of a stated size, that draws frames for whoever opened it. */
export function DrawPage({ scene }: { scene: number }) {
  const loaded = useDocument((s) => s.scene !== null);
  const [problem, setProblem] = useState("");
  const query = new URLSearchParams(location.search);
  const [wide, high] = ["wide", "high"].map((name) => Number(query.get(name)));
  useEffect(() => {
    fixPixelRatio(1);
    openScene(scene).then((refused) => {
      if (!refused) return Object.assign(window, { heronDraw: draw } satisfies Draws);
      Object.assign(window, { heronProblem: refused.detail } satisfies Draws);
      setProblem(refused.detail);
    });
  }, [scene]);
  if (problem) return <p role="alert">{problem}</p>;
  if (!loaded) return null;
  return (
    <div style={{ width: wide, height: high, overflow: "hidden" }}>
      <Suspense>
        <Picture width={wide} height={high} />
      </Suspense>
    </div>
  );
}
