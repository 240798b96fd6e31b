import type { Channel, KeyKind } from "../api/types";

/** Keys of a thing at one frame, on however many of its channels. */
export interface KeysHere {
  frame: number;
  channels: string[];
  /** How the curves come in and go out; none where the channels differ. */
  before: KeyKind | null;
  after: KeyKind | null;
  /** What it moves in time with. */
  bound: Channel["keys"][number]["bound"];
}

const isChannel = (value: unknown): value is Channel =>
  typeof value === "object" && value !== null && "keys" in value && "rest" in value;

/** The channels of a thing, its parts' too, by the names that commands call them by. */
export function channelsOf(thing: object, before = ""): [string, Channel][] {
  return Object.entries(thing).flatMap(([name, value]): [string, Channel][] => {
    if (isChannel(value)) return [[`${before}${name}`, value]];
    if (!value || typeof value !== "object") return [];
    if (!Array.isArray(value)) return channelsOf(value, `${before}${name}.`);
    return value.flatMap((part) =>
      part && typeof part === "object" && "id" in part ? channelsOf(part, `${before}${part.id}.`) : [],
    );
  });
}

export const keyedIn = (thing: object, names: readonly string[]): boolean =>
  channelsOf(thing).some(([name, channel]) => names.includes(name) && channel.keys.length > 0);

/** All keys of a thing by frame: the union of its channels, or of some of them. */
export function keysOf(thing: object, names?: readonly string[]): KeysHere[] {
  const found = new Map<number, KeysHere>();
  for (const [name, channel] of channelsOf(thing)) {
    if (names && !names.includes(name)) continue;
    for (const key of channel.keys) {
      const here = found.get(key.frame);
      if (!here) {
        const { frame, before, after, bound } = key;
        found.set(frame, { frame, channels: [name], before, after, bound });
        continue;
      }
      here.channels.push(name);
      here.bound ??= key.bound;
      if (here.before !== key.before) here.before = null;
      if (here.after !== key.after) here.after = null;
    }
  }
  return [...found.values()].sort((a, b) => a.frame - b.frame);
}
