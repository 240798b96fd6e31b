/** Something a person can do: by its key, or by finding it by what it does. */
export interface Action {
  does: string;
  /** The keys that do it, as `keyOf` writes them; the first is shown. */
  keys?: string[];
  /** How the first key is shown, where its name is not a word. */
  shown?: string;
  run(): unknown;
}

/** A key as it is written in the table: `Ctrl+Shift+z`. Shift is said of letters, the space bar and named keys alone. */
export function keyOf(e: KeyboardEvent): string {
  const letter = e.key.length === 1;
  const name = letter ? e.key.toLowerCase() : e.key;
  const shift = e.shiftKey && (!letter || /[a-z ]/.test(name));
  return `${e.ctrlKey || e.metaKey ? "Ctrl+" : ""}${e.altKey ? "Alt+" : ""}${shift ? "Shift+" : ""}${name}`;
}

/** What is done on a panel that has the keyboard, besides. */
export const ON_PANELS: [string, string][] = [
  ["1 … 9", "Look through a camera"],
  ["Plan: arrows", "Move what is selected, with Shift by large steps; with a tool, move its point"],
  ["Plan: Enter", "With a tool, put it here; twice in one place ends a walk"],
  ["Plan: Page Down, Page Up", "Select the next, the last thing on the stage"],
  ["Picture: arrows", "Look about; Shift slides, Ctrl goes round; Page Up, Page Down nearer, farther"],
  ["Picture: Enter", "While pointing at a focus, take what is in the middle"],
  [
    "Shot: arrows",
    "Go along the shots, Home and End to the first and last; Shift trims its end, Alt its beginning, Alt Shift rolls the cut at its end, Ctrl moves it",
  ],
  ["Lanes: ↑ ↓", "From lane to lane; Ctrl ← → from key to key, Home and End to the first and last"],
  [
    "Curves: Page Down, Page Up",
    "Pick the next key, the last; with Shift besides. Ctrl ↑ ↓ goes along the channels",
  ],
  [
    "Curves: arrows",
    "Move picked keys by a frame or a step, with Shift by ten; with Alt the handle out, Alt Shift the handle in",
  ],
  ["Curves: K, F", "Keys at the playhead on what is shown; fit. Ctrl A, C, X, V and Delete as everywhere"],
  ["Key: arrows", "Move it a frame, with Shift a second; Delete deletes it"],
];

/** How an action's key is shown. */
export function keyShown({ keys, shown }: Action): string {
  if (shown) return shown;
  const [key] = keys ?? [""];
  const parts = key.split("+");
  const last = parts[parts.length - 1];
  return [...parts.slice(0, -1), last.length === 1 ? last.toUpperCase() : last].join(" ");
}
