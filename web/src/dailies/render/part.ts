import type { Render } from "../../api/types";

/** A part of the dialog: it shows something of what is asked, and changes it. */
export interface Part {
  render: Render;
  onSet: (change: Partial<Render>) => void;
}

/** Take a number into what is asked; whether it can be had is said under it all. */
export const typed = (onSet: Part["onSet"], name: keyof Render) => async (to: number) => {
  onSet({ [name]: to });
  return null;
};
