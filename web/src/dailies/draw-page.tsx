import { Suspense, useEffect, useState } from "react";
import { Black } from "../picture/black";
import type { Draws } from "../picture/drawer";
import { Picture } from "../picture/picture";
import { fixPixelRatio } from "../picture/renderer/redraw";
import { useDocument } from "../store/document";
import { goCut, useMoment } from "../store/moment";
import { openScene } from "../store/sending";
import { useView } from "../store/view";
import { drawFrame, fits } from "./drawn";
import { work } from "./working";

/** The cut at a frame, with nothing over it; while it plays, drawn as quickly as the desk's own. */
function show(cut: number, playing: boolean): void {
  if (useView.getState().through !== "cut") useView.setState({ through: "cut", bare: true });
  if (useMoment.getState().playing !== playing) useMoment.setState({ playing });
  goCut(cut);
}

/** Over the picture where the cut that is shown is black, or a slate. */
function Dark() {
  const dark = useMoment((s) => s.gap);
  const cut = useView((s) => s.through === "cut");
  return dark && cut ? <Black /> : null;
}

/** A page without a desk, of one picture of a stated size, that draws frames for whoever opened it. */
export function DrawPage({ scene }: { scene: number }) {
  const loaded = useDocument((s) => s.scene !== null);
  const [problem, setProblem] = useState("");
  const query = new URLSearchParams(location.search);
  const [wide, high] = ["wide", "high"].map((name) => Number(query.get(name)));
  useEffect(() => {
    fixPixelRatio(1);
    const size: [number, number] = [wide, high];
    openScene(scene).then((refused) => {
      if (!refused)
        return Object.assign(window, {
          heronDraw: async (camera, stage, how, progress) =>
            await (await drawFrame(camera, stage, how, size, progress)).png,
          heronShow: show,
          heronWork: (take, by, signal, progress) => work(take, by, size, signal, progress),
        } satisfies Draws);
      Object.assign(window, { heronProblem: refused.detail } satisfies Draws);
      setProblem(refused.detail);
    });
  }, [scene, wide, high]);
  if (problem) return <p role="alert">{problem}</p>;
  // What cannot be drawn is not tried; whoever asks for a frame of it is told.
  if (!loaded || !fits(wide, high)) return null;
  return (
    <div style={{ width: wide, height: high, overflow: "hidden", position: "relative" }}>
      <Suspense>
        <Picture width={wide} height={high} />
        <Dark />
      </Suspense>
    </div>
  );
}
