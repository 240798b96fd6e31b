import type { How } from "../picture/drawer";
import { drawThrough, opening } from "../picture/renderer/opening";
import { onDrawn, redraw } from "../picture/renderer/redraw";
import type { Looks } from "../store/looks";
import { goStage } from "../store/moment";
import { samplesOf } from "../store/samples";
import { useView } from "../store/view";

const NAMES = Object.keys(useView.getState().looks);
/** Whether figures are drawn as flat shapes, to judge the pictures by. */
let silhouettes = false;
export function drawSilhouettes(on: boolean): void {
  silhouettes = on;
}

const bare = (fine: boolean) =>
  ({
    ...Object.fromEntries(
      NAMES.map((name) => [name, name === "blur" || (fine && (name === "motion" || name === "refine"))]),
    ),
    judge: silhouettes ? "silhouettes" : "",
  }) as unknown as Looks;

const soon = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

async function until(true_: () => boolean, most: number): Promise<boolean> {
  for (let waited = 0; waited < most; waited += 20) {
    if (true_()) return true;
    await soon(20);
  }
  return true_();
}

/** Fewer make no picture through a lens, more no better one. */
const FEWEST = 4;
const MOST = 256;
/** Drawings that the pace is told by. */
const TRIED = 6;
let paced: { seconds: number; drawings: number } | null = null;

/** How many drawings fit some seconds here. */
async function atPace(camera: string, stage: number, seconds: number): Promise<number> {
  if (paced?.seconds === seconds) return paced.drawings;
  let began = 0;
  let each = 0;
  await gathered(camera, stage, 64, (count) => {
    if (count === 1) began = performance.now();
    else if (count > 1) each = (performance.now() - began) / (count - 1);
    return count >= TRIED;
  });
  const drawings = Math.min(Math.max(Math.floor((seconds * 1000) / Math.max(each, 1)), FEWEST), MOST);
  paced = { seconds, drawings };
  return drawings;
}

/** Stand at a camera's frame and draw until told that it is enough; resolves while the canvas still holds it. */
async function gathered(
  camera: string,
  stage: number,
  drawings: number | null,
  enough: (count: number, of: number) => boolean,
): Promise<HTMLCanvasElement> {
  const sheet = () => document.querySelector("canvas");
  if (!(await until(() => sheet()?.dataset.ready === "true", 60_000)))
    throw new Error("The stage could not be drawn.");
  if (drawings !== null) {
    drawThrough(drawings);
    const blades = (samplesOf(camera)?.facts.blades as number) ?? 0;
    await until(() => opening(blades) !== null, 5000);
  }
  useView.setState({
    through: { camera }, bare: true, looks: bare(drawings !== null), kind: null, ids: [], joint: null, edges: null, comparing: null,
  }); // biome-ignore format: one state of the picture
  goStage(stage);
  return new Promise((done) => {
    const end = onDrawn((count, of) => {
      if (!enough(count, of)) return;
      end();
      done(sheet() as HTMLCanvasElement);
    });
    redraw(true);
  });
}

let largest: number | null = null;

/** The longest side of a picture that can be drawn here, pixels. */
function longest(): number {
  const pen = largest === null ? document.createElement("canvas").getContext("webgl2") : null;
  if (largest !== null) return largest;
  largest = pen
    ? Math.min(pen.getParameter(pen.MAX_TEXTURE_SIZE), ...pen.getParameter(pen.MAX_VIEWPORT_DIMS))
    : 0;
  pen?.getExtension("WEBGL_lose_context")?.loseContext();
  return largest;
}

/** Whether pictures of a size can be drawn here at all. */
export const fits = (wide: number, high: number): boolean => Math.max(wide, high) <= longest();

const tooLarge = (wide: number, high: number) =>
  new Error(
    `Pictures of ${wide} × ${high} cannot be drawn here; at most ${longest()} × ${longest()}. Choose a smaller height.`,
  );

/** A frame was given up in the middle, since nobody wants it any more. */
export class Unwanted extends Error {}

/** The browser's graphics process ended: nothing more can be drawn on this page. */
export class GraphicsLost extends Error {
  constructor() {
    super("The browser's graphics process stopped; open the page again to go on drawing.");
  }
}

/** A frame through a camera, by the viewfinder's own drawing, with nothing over it; its PNG is packed meanwhile. */
export async function drawFrame(
  camera: string,
  stage: number,
  how: How,
  size: [number, number],
  progress: (count: number, of: number) => void = () => {},
  unwanted: () => boolean = () => false,
): Promise<{ png: Promise<Blob> }> {
  if (!fits(...size)) throw tooLarge(...size);
  let drawings: number | null = null;
  if (how.quality === "fine") drawings = how.drawings;
  else if (how.quality === "timed") drawings = await atPace(camera, stage, how.seconds);
  const sheet = await gathered(camera, stage, drawings, (count, of) => {
    progress(count, of);
    if (unwanted()) return true;
    return drawings === null ? count === 0 : of > 0 && count >= of;
  });
  if (unwanted()) throw new Unwanted();
  // A context short of memory makes a smaller sheet, and says nothing.
  const pen = sheet.getContext("webgl2");
  if (!pen || pen.isContextLost()) throw new GraphicsLost();
  if (pen.drawingBufferWidth !== size[0] || pen.drawingBufferHeight !== size[1]) throw tooLarge(...size);
  const png = new Promise<Blob>((done, fail) => {
    sheet.toBlob(
      (made) => (made ? done(made) : fail(new Error("The picture could not be packed."))),
      "image/png",
    );
  });
  return { png };
}
