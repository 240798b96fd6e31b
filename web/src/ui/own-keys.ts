import type { KeyboardEvent as Pressed } from "react";

/** Keys that go about the desk from a field, too: function keys, and Ctrl K. */
export const leavesFields = (e: Pressed | KeyboardEvent): boolean =>
  /^F\d+$/.test(e.key) || ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k");

/** A field has all other keys to itself. */
export function ownKeys(e: Pressed): void {
  if (!leavesFields(e)) e.stopPropagation();
}
