/** Paul Tol's “muted” colour-blind-safe set (SRON/EPS/TN/09-002), less rose and sand, which read as wrong and as a key. */
const HUES = ["#332288", "#44aa99", "#882255", "#117733", "#aa4499", "#88ccee", "#999933"];
const PALE = new Set(["#88ccee", "#44aa99", "#999933"]);

/** The hue of a camera, by its letter, the same everywhere. */
export function hue(letter: string): string {
  const n = [...letter].reduce((sum, c) => sum * 26 + c.charCodeAt(0) - 65, 0);
  return HUES[n % HUES.length];
}

/** A colour for the letter on its hue. */
export const onHue = (letter: string): string => (PALE.has(hue(letter)) ? "#14181c" : "#ffffff");

/** A camera's hue for a thin line: lighter in the dim room, where the dark ones would be lost. */
export const lineHue = (letter: string): string => `color-mix(in oklab, ${hue(letter)}, white var(--lift))`;
