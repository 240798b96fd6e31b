import { ask, client } from "../../api/client";
import { redraw } from "./redraw";

const kept = new Map<number, Float32Array | null>();
/** Drawings that a still picture through a lens is made of. */
export const THROUGH = 64;

/** Points spread over an opening of some blades, x and y in turn; null until the server has told them. */
export function opening(blades: number): Float32Array | null {
  const found = kept.get(blades);
  if (found !== undefined) return found;
  kept.set(blades, null);
  void ask(client.GET("/api/opening", { params: { query: { blades, count: THROUGH } } })).then(({ data }) => {
    if (data) kept.set(blades, Float32Array.from(data.points));
    else kept.delete(blades);
    redraw(false);
  });
  return null;
}
