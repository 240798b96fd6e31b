import type { ChannelSpec } from "../api/types";

/** Paul Tol's “bright” colour-blind-safe set (SRON/EPS/TN/09-002), darker on paper and lighter in the dim room. */
const ON_PAPER = ["#3a6a93", "#a3326f", "#1f7a30", "#85702a", "#12808f", "#5b3a99"];
const IN_THE_DIM = ["#7fb2dd", "#e08ab8", "#7cc98a", "#d8c66a", "#7fd3de", "#b79be6"];

/** A curve's colour, by its place among those that are there. */
export const curveHue = (index: number, dim: boolean): string => {
  const set = dim ? IN_THE_DIM : ON_PAPER;
  return set[((index % set.length) + set.length) % set.length];
};

/** What moves is drawn through, what turns in dashes, the rest in dots: not by colour alone. */
export const curveDash = (spec: ChannelSpec): number[] =>
  spec.measure === "metres" ? [] : spec.measure === "degrees" ? [7, 3] : [2, 3];
