/** How a frame is drawn: once; so many times; or as often as fits so many seconds. */
export type How =
  | { quality: "quick" }
  | { quality: "fine"; drawings: number }
  | { quality: "timed"; seconds: number };

/** What the page that draws can be asked, by whoever opened it. */
export interface Draws {
  heronDraw?: (
    camera: string,
    stage: number,
    how: How,
    progress?: (count: number, of: number) => void,
  ) => Promise<Blob>;
  /** Draw frames of a take until there are none left for whoever asks. */
  heronWork?: (take: number, by: string, signal?: AbortSignal, progress?: () => void) => Promise<void>;
  /** Show a frame of the scene's cut, at once; whether it goes on playing. */
  heronShow?: (cut: number, playing: boolean) => void;
  heronProblem?: string;
}

/** A page of ours beside this one that draws frames of a scene at a size. */
export interface Drawer {
  draw(camera: string, stage: number, how: How, progress: (count: number, of: number) => void): Promise<Blob>;
  work(take: number, by: string, signal: AbortSignal, progress: () => void): Promise<void>;
  close(): void;
}

const LONGEST_MS = 60_000;

/** Open one; it is out of sight, and gone once it is closed, or at once when whoever wanted it wants it no more. */
export async function openDrawer(
  scene: number,
  wide: number,
  high: number,
  wanted: AbortSignal,
  /** The revision that is drawn; left out, the scene as it is. */
  at?: number,
): Promise<Drawer> {
  const frame = document.createElement("iframe");
  frame.src = `/draw/${scene}?wide=${wide}&high=${high}${at === undefined ? "" : `&at=${at}`}`;
  frame.tabIndex = -1;
  frame.title = "Draws pictures";
  frame.setAttribute("aria-hidden", "true");
  // In the window, but under all of it: what is out of the window might not be drawn.
  Object.assign(frame.style, {
    position: "fixed", left: "0", top: "0", width: `${wide}px`, height: `${high}px`, border: "0", opacity: "0", zIndex: "-1",
    pointerEvents: "none",
  }); // biome-ignore format: one look
  document.body.append(frame);
  const close = () => frame.remove();
  wanted.addEventListener("abort", close);
  const begun = performance.now();
  for (;;) {
    wanted.throwIfAborted();
    const page = frame.contentWindow as (Window & Draws) | null;
    const { heronDraw, heronWork, heronProblem } = page ?? {};
    if (heronDraw && heronWork) return { draw: heronDraw, work: heronWork, close };
    if (heronProblem || !page || performance.now() - begun > LONGEST_MS) {
      close();
      throw new Error(heronProblem ?? "The page that draws did not open.");
    }
    await new Promise((go) => setTimeout(go, 60));
  }
}

/** A small picture of a frame of a scene, drawn out of sight. */
export async function drawnSmall(
  scene: number,
  { camera, frame, aspect }: { camera: string; frame: number; aspect: number },
  high: number,
  wanted: AbortSignal,
): Promise<Blob> {
  const page = await openDrawer(scene, Math.round(high * aspect), high, wanted);
  try {
    return await page.draw(camera, frame, { quality: "quick" }, () => {});
  } finally {
    page.close();
  }
}
