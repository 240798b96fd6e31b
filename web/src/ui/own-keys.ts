import type { KeyboardEvent } from "react";

/** A field has its keys to itself, but for those that go about the desk: function keys, and Ctrl K. */
export function ownKeys(e: KeyboardEvent): void {
  const desk = /^F\d+$/.test(e.key) || (e.ctrlKey && e.key.toLowerCase() === "k");
  if (!desk) e.stopPropagation();
}
