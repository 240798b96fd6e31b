import { ask, client } from "../../api/client";
import { redraw } from "./redraw";

const kept = new Map<string, Float32Array | null>();
/** Drawings that a still picture through a lens is made of. */
let drawings = 64;
export const throughLens = (): number => drawings;

/** Make still pictures of another number of drawings. */
export function drawThrough(count: number): void {
  drawings = count;
  redraw(false);
}

/** Points spread over an opening of some blades, x and y in turn; null until the server has told them. */
export function opening(blades: number): Float32Array | null {
  const count = drawings;
  const name = `${blades} ${count}`;
  const found = kept.get(name);
  if (found !== undefined) return found;
  kept.set(name, null);
  void ask(client.GET("/api/opening", { params: { query: { blades, count } } })).then(({ data }) => {
    if (data) kept.set(name, Float32Array.from(data.points));
    else kept.delete(name);
    redraw(false);
  });
  return null;
}
