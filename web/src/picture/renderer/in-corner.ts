import type { WebGLRenderer } from "three";

/** How many times finer a small picture is drawn than shown, so that its edges are smooth. */
const FINER = 2;

/**
 * Draw on a sheet of its own what is drawn in a corner of the big picture's, so that one set of shapes serves both: the
 * big one must be shown after it.
 */
export function drawInCorner(
  gl: WebGLRenderer,
  sheet: HTMLCanvasElement,
  draw: (wide: number, high: number) => void,
): void {
  const room = gl.domElement;
  const finer = Math.min(FINER, room.width / sheet.width, room.height / sheet.height);
  const [wide, high] = [Math.floor(sheet.width * finer), Math.floor(sheet.height * finer)];
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
  const pen = sheet.getContext("2d");
  if (!pen) return;
  pen.imageSmoothingQuality = "high";
  pen.drawImage(room, 0, room.height - high, wide, high, 0, 0, sheet.width, sheet.height);
  sheet.dataset.drawn = String(Number(sheet.dataset.drawn ?? 0) + 1);
}
