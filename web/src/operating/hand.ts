import { catalogue } from "../api/catalogue";

export const WORKING = catalogue.working;
/** What a hand works: of a camera, of a mover that is driven or lifted, of a figure that is led. */
export type Works = (typeof WORKING)[string][number]["works"];

/** How far a hand has brought things from where they stood: metres and degrees; lens and focus as logarithms of ratios. */
export interface Hand {
  x: number;
  y: number;
  z: number;
  pan: number;
  tilt: number;
  zoom: number;
  focus: number;
}

export const STILL: Hand = { x: 0, y: 0, z: 0, pan: 0, tilt: 0, zoom: 0, focus: 0 };

/** How hard each way is pushed, −1 to 1: right and up, right and ahead, up, longer, farther. */
export interface Push {
  look: [number, number];
  move: [number, number];
  lift: number;
  zoom: number;
  focus: number;
}

export const NO_PUSH: Push = { look: [0, 0], move: [0, 0], lift: 0, zoom: 0, focus: 0 };

const FEEL = catalogue.hand;

const degToRad = (degrees: number) => (degrees * Math.PI) / 180;

/** Over the floor, right and ahead of a heading, metres. */
export function overFloor(heading: number, right: number, ahead: number): { x: number; z: number } {
  const [s, c] = [Math.sin(degToRad(heading)), Math.cos(degToRad(heading))];
  return { x: right * c - ahead * s, z: -right * s - ahead * c };
}

/** The pushes that a pair of ways means for what is worked. */
export function pairAs(works: Works, x: number, y: number): Push {
  if (works === "look" || works === "all") return { ...NO_PUSH, look: [x, y] };
  if (works === "lift") return { ...NO_PUSH, move: [x, 0], lift: y };
  if (works === "zoom") return { ...NO_PUSH, zoom: y };
  if (works === "focus") return { ...NO_PUSH, focus: y };
  if (works === "rise") return { ...NO_PUSH, lift: y };
  // Driven, it turns where it goes; led or trucked, it keeps the way it faces.
  if (works === "drive") return { ...NO_PUSH, look: [x, 0], move: [0, y] };
  return { ...NO_PUSH, move: [x, y] };
}

/** Where a hand is after pushing for some seconds; `heading` is what right and ahead go by, degrees. */
export function pushed(hand: Hand, push: Push, seconds: number, heading: number): Hand {
  const floor = overFloor(
    heading,
    push.move[0] * FEEL.walk_m * seconds,
    push.move[1] * FEEL.walk_m * seconds,
  );
  return {
    x: hand.x + floor.x,
    z: hand.z + floor.z,
    y: hand.y + push.lift * FEEL.lift_m * seconds,
    pan: hand.pan - push.look[0] * FEEL.turn_deg * seconds,
    tilt: hand.tilt + push.look[1] * FEEL.turn_deg * seconds,
    zoom: hand.zoom + push.zoom * Math.log(FEEL.zoom_times) * seconds,
    focus: hand.focus + push.focus * Math.log(FEEL.focus_times) * seconds,
  };
}

/** What is seen as a mouse moves over it: how wide, degrees, how far away what is looked at stands, and its heading. */
export interface Seen {
  across: number;
  distance: number;
  heading: number;
}

/** Where a hand is after the mouse went over shares of the picture, right and up: what is looked at goes with it. */
export function dragged(hand: Hand, works: Works, right: number, up: number, seen: Seen): Hand {
  const wide = 2 * Math.tan(degToRad(seen.across / 2)) * seen.distance * FEEL.over;
  const push = pairAs(works, right, up);
  const floor = overFloor(seen.heading, push.move[0] * wide, push.move[1] * wide);
  return {
    x: hand.x + floor.x,
    z: hand.z + floor.z,
    y: hand.y + push.lift * wide,
    pan: hand.pan - push.look[0] * seen.across,
    tilt: hand.tilt + push.look[1] * seen.across,
    zoom: hand.zoom + push.zoom * Math.log(FEEL.over_zoom_times),
    focus: hand.focus + push.focus * Math.log(FEEL.over_focus_times),
  };
}

/** The channels that a hand changes. */
export const numbersOf = (works: Works): string[] =>
  Object.values(WORKING)
    .flat()
    .find((one) => one.works === works)?.channels ?? [];

const BY: Record<string, keyof Hand> = { focal: "zoom", "focus.distance": "focus" };

/** A number where the hand has it, from where it stood: kept within what lens and neck allow. */
export function brought(
  name: string,
  from: number,
  hand: Hand,
  limits: Record<string, readonly [number, number]>,
): number {
  const by = hand[BY[name] ?? (name as keyof Hand)];
  const free =
    name === "focal" ? from * Math.exp(by) : name === "focus.distance" ? from * Math.exp(-by) : from + by;
  const [low, high] = limits[name] ?? [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
  return Math.min(Math.max(free, low), high);
}

/** Which of the numbers the hand has touched at all. */
export const touchedBy = (names: string[], hand: Hand): string[] =>
  names.filter((name) => Math.abs(hand[BY[name] ?? (name as keyof Hand)]) > 1e-9);
