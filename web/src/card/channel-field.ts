import type { ChannelSpec } from "../api/types";

/** How a channel's number is shown and dragged, from its line in the table of channels. */
export function fieldOf(specs: ChannelSpec[] | undefined, name: string) {
  const spec = specs?.find((s) => s.name === name);
  if (!spec) return { label: name };
  const { label, unit, front, step, digits } = spec;
  return { label, unit, front: front || undefined, step, digits };
}
