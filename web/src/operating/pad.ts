import { create } from "zustand";
import { NO_PUSH, type Push, pairAs, type Works } from "./hand";

/** A pad with two sticks, as the browser gives gamepads of the standard layout. */
export interface Sticks {
  axes: readonly number[];
  buttons: readonly { value: number }[];
}

/** The pad on the screen: for those who have none, and wherever none can be plugged in. */
export const useScreenPad = create<{
  shown: boolean;
  axes: [number, number, number, number];
  held: number[];
}>(() => ({ shown: false, axes: [0, 0, 0, 0], held: [] }));

/** Buttons of the standard layout. */
export const BUTTONS = {
  nearer: 4,
  farther: 5,
  lower: 6,
  higher: 7,
  longer: 12,
  wider: 13,
} as const;

/** Sticks rest a little off their middle: within this nothing is meant. */
const REST = 0.12;

/** A stick's push: nothing near its middle, fine about it, all of it at the edge. */
export function eased(value: number): number {
  const past = Math.max(Math.abs(value) - REST, 0) / (1 - REST);
  return Math.sign(value) * past * past;
}

/** The gamepad that is plugged in, if any. */
export const pluggedIn = (): Gamepad | null =>
  [...(navigator.getGamepads?.() ?? [])].find((pad) => pad?.connected) ?? null;

/** The pad that is used: a real one first, else the one on the screen. */
export function padNow(): Sticks | null {
  const pad = pluggedIn();
  if (pad) return pad;
  const { shown, axes, held } = useScreenPad.getState();
  if (!shown) return null;
  return { axes, buttons: Array.from({ length: 16 }, (_, i) => ({ value: held.includes(i) ? 1 : 0 })) };
}

/** What a pad pushes: its right stick looks, its left one goes; for one pair alone, whichever is pushed farther. */
export function pushOf(pad: Sticks, works: Works): Push {
  const [lx = 0, ly = 0, rx = 0, ry = 0] = pad.axes.map(eased);
  const button = (name: keyof typeof BUTTONS) => pad.buttons[BUTTONS[name]]?.value ?? 0;
  const zoom = button("longer") - button("wider");
  const focus = button("farther") - button("nearer");
  const lift = button("higher") - button("lower");
  if (works === "all") return { look: [rx, -ry], move: [lx, -ly], lift, zoom, focus };
  const left = Math.hypot(lx, ly) > Math.hypot(rx, ry);
  const push = pairAs(works, left ? lx : rx, left ? -ly : -ry);
  if (works === "zoom") push.zoom += zoom;
  if (works === "focus") push.focus += focus;
  if (works === "lift" || works === "rise") push.lift += lift;
  return push;
}

export const added = (a: Push, b: Push): Push => ({
  look: [a.look[0] + b.look[0], a.look[1] + b.look[1]],
  move: [a.move[0] + b.move[0], a.move[1] + b.move[1]],
  lift: a.lift + b.lift,
  zoom: a.zoom + b.zoom,
  focus: a.focus + b.focus,
});

export { NO_PUSH };
