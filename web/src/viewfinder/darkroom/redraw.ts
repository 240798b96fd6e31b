let asked = (_shadows: boolean) => {};

/** Who draws when something on the stage changed. */
export function onRedraw(draw: (shadows: boolean) => void): () => void {
  asked = draw;
  return () => {
    asked = () => {};
  };
}

/** Ask for the picture to be drawn anew, for what no store tells of: a shape that arrived, say. */
export const redraw = (shadows = true): void => asked(shadows);
