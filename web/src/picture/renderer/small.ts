import type { WebGLRenderer } from "three";
import { drawInCorner } from "./in-corner";

/** The small picture's own sheet, when it is shown: the stage is drawn once more, and copied on to it. */
export const small: { sheet: HTMLCanvasElement | null } = { sheet: null };

/** Draw the small picture; the big one must be drawn after it. */
export function drawSmall(gl: WebGLRenderer, draw: (wide: number, high: number) => void): void {
  const { sheet } = small;
  if (!sheet) return;
  const box = sheet.getBoundingClientRect();
  const [cw, ch] = [Math.round(box.width * devicePixelRatio), Math.round(box.height * devicePixelRatio)];
  if (cw < 2 || ch < 2) return;
  if (sheet.width !== cw || sheet.height !== ch) [sheet.width, sheet.height] = [cw, ch];
  drawInCorner(gl, sheet, draw);
}
