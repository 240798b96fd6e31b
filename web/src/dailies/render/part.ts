import type { Render } from "../../api/types";

/** A part of the dialog: it shows something of what is asked, and changes it. */
export interface Part {
  render: Render;
  onSet: (change: Partial<Render>) => void;
}

export const beyond = (what: string, low: number, high: number) => ({
  title: "", remedy: "", status: 400, detail: `${what} is ${low} to ${high}. Type a number between.`,
}); // biome-ignore format: a refusal

/** Take a number into what is asked, if it lies between two. */
export function within(
  onSet: Part["onSet"],
  name: keyof Render,
  what: string,
  low: number,
  high: number,
  whole = true,
) {
  return async (to: number) => {
    const next = whole ? Math.round(to) : to;
    if (next < low || next > high) return beyond(what, low, high);
    onSet({ [name]: next });
    return null;
  };
}
