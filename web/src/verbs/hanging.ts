import type { Act, Cue, Does, Scene, Shot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { channelsOf } from "../store/keys";
import { speakerOf } from "../store/lines";
import { timedLines } from "../store/samples";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { actLabel } from "./acts";

/** The start or the end of an act, or of a word. */
export type Binding = NonNullable<Cue["bound"]>;
export type OnWord = NonNullable<Shot["bound"]>;
type Hung = Pick<Does<"word.hang">, "cues" | "acts" | "shots" | "keys">;

/** A moment that something can go with. */
export interface Moment {
  value: string;
  label: string;
  frame: number;
  to: Binding;
}

export const isWord = (to: Binding): to is OnWord => "line" in to;

const keyOf = (to: Binding): string =>
  isWord(to) ? `${to.line} ${to.word} ${to.end}` : `${to.figure} ${to.act} ${to.end}`;

/** Most words that are offered at once, those nearest. */
const WORDS = 24;

const bare = (word: string) => word.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, "") || word;

/** The moments of all lines. */
function words(scene: Scene): Moment[] {
  return timedLines().flatMap((time) => {
    const line = itemOf(scene, "lines", time.id);
    if (!line) return [];
    const { name } = speakerOf(scene, line);
    const said = line.text.split(/\s+/);
    const moment = (word: number, end: "first" | "last", frame: number, called: string): Moment => {
      const to: OnWord = { line: line.id, word, end };
      return { value: keyOf(to), label: `${called}, ${name}, ${frame}`, frame, to };
    };
    return [
      ...time.words.flatMap((at, i) => [
        moment(i, "first", at, `“${bare(said[i] ?? "")}”`),
        moment(i, "last", time.over[i], `after “${bare(said[i] ?? "")}”`),
      ]),
      moment(said.length, "first", time.last + 1, `end of “${bare(said[0] ?? "")}…”`),
    ];
  });
}

/** The starts and ends of all acts. */
function acts(scene: Scene): Moment[] {
  return scene.figures.flatMap((f) =>
    f.acts.flatMap((act: Act) =>
      (["first", "last"] as const).map((end) => {
        const to: Binding = { figure: f.id, act: act.id as string, end };
        const label = `${f.name}'s ${actLabel(act).toLowerCase()} ${end === "first" ? "starts" : "ends"}, ${act.frames[end]}`;
        return { value: keyOf(to), label, frame: act.frames[end], to };
      }),
    ),
  );
}

/** What something at a frame can go with, the nearest first; what it goes with now is among them. */
export function moments(frame: number, bound: Binding | null | undefined, alsoActs: boolean): Moment[] {
  const { scene } = useDocument.getState();
  if (!scene) return [];
  const near = (all: Moment[]) => all.sort((a, b) => Math.abs(a.frame - frame) - Math.abs(b.frame - frame));
  const said = near(words(scene));
  const now = bound && said.find((one) => one.value === keyOf(bound));
  const offered = said.slice(0, WORDS);
  if (now && !offered.includes(now)) offered.push(now);
  return alsoActs ? near([...offered, ...acts(scene)]) : offered;
}

/** The same as choices in words, which of them counts, and what each comes to. */
export function choices(frame: number, bound: Binding | null | undefined, alsoActs = false) {
  const near = moments(frame, bound, alsoActs);
  const on = bound ? near.find((one) => one.value === keyOf(bound)) : undefined;
  const now = on ? goesWith(frame, bound) : null;
  return {
    any: near.length > 0,
    value: on?.value ?? "",
    options: [
      { value: "", label: "nothing" },
      ...near.map((one) => ({ value: one.value, label: one === on ? (now ?? one.label) : one.label })),
    ],
    now,
    pick: (value: string): Binding | null => near.find((one) => one.value === value)?.to ?? null,
  };
}

/** What something goes with, and how far from it; nothing where that is gone. */
export function goesWith(frame: number, bound: Binding | null | undefined): string | null {
  const { scene } = useDocument.getState();
  if (!scene || !bound) return null;
  const found = [...words(scene), ...acts(scene)].find((one) => one.value === keyOf(bound));
  if (!found) return null;
  const by = frame - found.frame;
  return `${found.label.split(",")[0]}${by ? ` ${by > 0 ? "+" : "−"}${Math.abs(by)} f` : ""}`;
}

/** Have things hang on a word, or let go of them. */
export const hang = async (what: Hung, to: OnWord | null) =>
  complain(await send({ kind: "word.hang", ...what, ...(to ?? {}) }));

const counts = new WeakMap<Scene, Set<string>>();

/** Words that something hangs on, as `line word`. */
export function hungWords(scene: Scene): Set<string> {
  let found = counts.get(scene);
  if (!found) {
    found = new Set();
    const add = (to: Binding | null | undefined) => to && isWord(to) && found?.add(`${to.line} ${to.word}`);
    for (const cue of scene.cues) add(cue.bound);
    for (const shot of scene.shots) add(shot.bound);
    for (const figure of scene.figures) for (const act of figure.acts) add(act.bound);
    for (const thing of [...scene.cameras, ...scene.movers])
      for (const [, channel] of channelsOf(thing)) for (const key of channel.keys) add(key.bound);
    counts.set(scene, found);
  }
  return found;
}
