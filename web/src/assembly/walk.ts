import type { Shot } from "../api/types";
import { select } from "../store/view";

/** Select a shot, and have the keyboard on it. */
export function goTo(shot: Shot | undefined): void {
  if (!shot) return;
  select("shot", [shot.id]);
  focusShot(shot);
}

/** The keyboard on a shot. */
export function focusShot(shot: Shot | undefined): void {
  if (shot) document.querySelector<HTMLElement>(`[data-shot="${CSS.escape(shot.name)}"]`)?.focus();
}

/** Put the keyboard on the cut before a shot. */
export function goToJoint(shot: string): void {
  document.querySelector<HTMLElement>(`[data-joint="${CSS.escape(shot)}"]`)?.focus();
}
