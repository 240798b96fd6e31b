let asked = (_shadows: boolean) => {};

/** Who draws when something on the stage changed. */
export function onRedraw(draw: (shadows: boolean) => void): () => void {
  asked = draw;
  return () => {
    asked = () => {};
  };
}

/** Ask for the picture to be drawn again, for what no store tells of: a shape that arrived, say. */
export const redraw = (shadows = true): void => asked(shadows);

let idle = () => {};

/** Who draws what waits until the big picture is done. */
export function onIdle(draw: () => void): () => void {
  idle = draw;
  return () => {
    idle = () => {};
  };
}

/** Ask for what waits until the big picture is done; that stays as it is. */
export const redrawIdle = (): void => idle();

let told = (_count: number, _of: number) => {};

/** Who is told, while the canvas still holds it, what was drawn: of how many drawings it is the sum; 0 for a quick one. */
export function onDrawn(tell: (count: number, of: number) => void): () => void {
  told = tell;
  return () => {
    told = () => {};
  };
}

export const drawn = (count: number, of: number): void => told(count, of);

let ratio: number | null = null;

/** Pixels of the canvas to a pixel of the page; for pictures of a stated size, one. */
export const pixelRatio = (): number => ratio ?? window.devicePixelRatio;
export function fixPixelRatio(to: number): void {
  ratio = to;
}
