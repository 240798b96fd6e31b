import type { Does } from "../api/types";

type Feel = NonNullable<Does<"camera.move">["feel"]>;

/** How a move begins and ends. */
export const FEELS: { value: Feel; label: string }[] = [
  { value: "soft", label: "soft at both ends" },
  { value: "constant", label: "at one speed" },
  { value: "soft start", label: "gathering speed" },
  { value: "soft end", label: "coming to rest" },
];
