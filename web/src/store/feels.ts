import { catalogue } from "../api/catalogue";
import type { Does } from "../api/types";

type Feel = NonNullable<Does<"camera.move">["feel"]>;

/** How a move begins and ends. */
export const FEELS = Object.entries(catalogue.feels).map(([value, label]) => ({
  value: value as Feel,
  label,
}));
