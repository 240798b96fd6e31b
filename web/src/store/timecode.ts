import type { CutTable } from "../api/types";

/** The cut frame of a timecode, typed with or without its colons; few digits are the last of it. −1 where there is none. */
export function timecodeFrame(table: CutTable, text: string, here: number): number {
  const digits = text.replace(/\D/g, "");
  const asked = Number(digits);
  const labels = table.timecode;
  // Fewer than all eight leave the hours, or more, as they are here.
  const lead = 10 ** digits.length;
  const now = labels[here] ?? labels[0];
  const wanted = digits.length >= 8 ? asked : now - (now % lead) + asked;
  return digits ? labels.indexOf(wanted) : -1;
}
