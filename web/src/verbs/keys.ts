import type { ChannelSpec, Does, KeyKind } from "../api/types";

/** All keys of a thing at a frame, or those of channels or groups of channels. */
const at = (thing: string, frame: number, channels: string | string[]) =>
  [channels].flat().map((channel) => ({ thing, frame, channel }));

export const deleteKeys = (
  thing: string,
  frame: number,
  channel: string | string[] = "all",
): Does<"keys.delete"> => ({
  kind: "keys.delete",
  keys: at(thing, frame, channel),
});

export const moveKeys = (
  thing: string,
  frame: number,
  by: number,
  channel: string | string[] = "all",
): Does<"keys.move"> => ({
  kind: "keys.move",
  keys: at(thing, frame, channel),
  by,
});

/** How the curves leave a key; one that leaves held is still reached as it was. */
export const shapeKeys = (
  thing: string,
  frame: number,
  shape: { before?: KeyKind; after?: KeyKind },
  channel = "all",
): Does<"keys.shape"> => ({ kind: "keys.shape", keys: at(thing, frame, channel), ...shape });

export const setKeyOn = (
  thing: string,
  channel: string,
  frame: number,
  value: number,
  force = false,
): Does<"keys.set"> => ({ kind: "keys.set", keys: [{ thing, channel, frame, value }], force });

/** A channel's name as people say it. */
export const labelOf = (specs: ChannelSpec[] | undefined, name: string): string =>
  specs?.find((s) => s.name === name)?.label.toLowerCase() ?? name;
