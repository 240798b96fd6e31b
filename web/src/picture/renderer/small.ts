import type { WebGLRenderer } from "three";

/** The small picture's own sheet, when it is shown: the stage is drawn once more, and copied on to it. */
export const small: { sheet: HTMLCanvasElement | null } = { sheet: null };

/** How many times finer it is drawn than shown, so that its edges are smooth. */
const FINER = 2;

/**
 * Draw the small picture. It is drawn in a corner of the big one's sheet and copied from there at once, so that one
 * set of shapes serves both: the big one must be drawn after it.
 */
export function drawSmall(gl: WebGLRenderer, draw: (wide: number, high: number) => void): void {
  const { sheet } = small;
  if (!sheet) return;
  const box = sheet.getBoundingClientRect();
  const room = gl.domElement;
  const [cw, ch] = [Math.round(box.width * devicePixelRatio), Math.round(box.height * devicePixelRatio)];
  if (cw < 2 || ch < 2) return;
  const finer = Math.min(FINER, room.width / cw, room.height / ch);
  const [wide, high] = [Math.floor(cw * finer), Math.floor(ch * finer)];
  const per = gl.getPixelRatio();
  gl.setRenderTarget(null);
  gl.setViewport(0, 0, wide / per, high / per);
  gl.setScissor(0, 0, wide / per, high / per);
  gl.setScissorTest(true);
  gl.setClearColor(0x777777, 1);
  gl.clear();
  draw(wide, high);
  gl.setScissorTest(false);
  gl.setViewport(0, 0, room.width / per, room.height / per);
  if (sheet.width !== cw || sheet.height !== ch) [sheet.width, sheet.height] = [cw, ch];
  const pen = sheet.getContext("2d");
  if (!pen) return;
  pen.imageSmoothingQuality = "high";
  pen.drawImage(room, 0, room.height - high, wide, high, 0, 0, cw, ch);
  sheet.dataset.drawn = String(Number(sheet.dataset.drawn ?? 0) + 1);
}
