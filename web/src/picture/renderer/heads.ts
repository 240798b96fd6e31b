/** Heads that can be left out of a picture: nobody sees their own. */
const heads = new Map<string, (shown: boolean) => void>();

/** A figure's head can be left out from now on; what it returns ends that. */
export function registerHead(figure: string, show: (shown: boolean) => void): () => void {
  heads.set(figure, show);
  return () => {
    if (heads.get(figure) === show) heads.delete(figure);
  };
}

/** Draw a picture without some heads; their shadows are there all the same. */
export function withoutHeads<T>(figures: string[], draw: () => T): T {
  for (const figure of figures) heads.get(figure)?.(false);
  try {
    return draw();
  } finally {
    for (const figure of figures) heads.get(figure)?.(true);
  }
}
