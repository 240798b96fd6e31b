import { create } from "zustand";
import type { Does } from "../api/types";
import { useDocument } from "../store/document";
import { Letter } from "../ui/badge";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { Tick } from "../ui/tick";

export type Wishes = NonNullable<Does<"cut.assemble">["wishes"]>;

/** What is asked in numbers, as it is shown: so many `times` what the core has. */
const NUMBERS = [
  {
    name: "pace",
    label: "Pace",
    unit: "s",
    digits: 1,
    step: 0.1,
    times: 1,
    tip: "How long a shot usually lasts",
  },
  {
    name: "master",
    label: "Master",
    unit: "s",
    digits: 1,
    step: 0.5,
    times: 1,
    tip: "How long the shot of everyone is kept at the beginning",
  },
  {
    name: "close",
    label: "Close",
    unit: "%",
    digits: 0,
    step: 5,
    times: 100,
    tip: "How soon shots become closer: at 0 % they stay wide, at 100 % close-ups come early",
  },
  {
    name: "reaction",
    label: "Reaction",
    unit: "%",
    digits: 0,
    step: 5,
    times: 100,
    tip: "How much whoever listens matters: at 0 % only whoever speaks does",
  },
  {
    name: "lead",
    label: "Lead",
    unit: "f",
    digits: 0,
    step: 1,
    times: 1,
    tip: "Frames from where a line begins to the cut to its speaker: above 0 the sound leads, below 0 the picture",
  },
] as const;

interface Asked {
  of: number;
  /** What was changed of each proposal. */
  one: Partial<Wishes>;
  two: Partial<Wishes>;
  /** Cameras that are not to be cut to. */
  left: string[];
  /** Shots that stay; null, those that the core says. */
  keep: string[] | null;
}
export const NOTHING_ASKED: Asked = { of: 0, one: {}, two: {}, left: [], keep: null };

/** What is asked is kept while the desk is open, for the scene it was asked for. */
export const useAsked = create<Asked>(() => NOTHING_ASKED);

/** What is asked of a proposal: its numbers, whose scene it is, what it may cut to, and what stays. */
export function AssemblyWishes(props: { of: "one" | "two"; wishes: Wishes; stays: readonly string[] }) {
  const { of, wishes: mine, stays } = props;
  const scene = useDocument((s) => s.scene);
  const left = useAsked((s) => s.left);
  const set = (part: Partial<Wishes>) => {
    useAsked.setState((was) => ({ [of]: { ...was[of], ...part } }));
    return Promise.resolve(null);
  };
  if (!scene) return null;
  return (
    <div className="grid grid-cols-[9fr_11fr] gap-x-3 gap-y-1 border-b border-line px-3 py-2 [&>.wide]:col-span-2">
      {NUMBERS.map(({ name, times, tip, ...shown }) => (
        <div key={name} title={tip}>
          <NumberField
            compact
            {...shown}
            value={(mine[name] ?? 0) * times}
            onSet={(value) => set({ [name]: value / times })}
          />
        </div>
      ))}
      <div className="wide">
        <Choice
          label="Whose scene"
          value={mine.favour ?? ""}
          options={[
            { value: "", label: "everyone's" },
            ...scene.figures.map((figure) => ({ value: figure.id, label: `${figure.name}'s` })),
          ]}
          onSet={(favour) => void set({ favour: favour || null })}
        />
      </div>
      <div className="wide flex flex-wrap items-center gap-1" role="group" aria-label="Cameras it may cut to">
        <span className="text-sm text-faint">Cut to</span>
        {scene.cameras.map((camera) => (
          <button
            key={camera.id}
            type="button"
            aria-pressed={!left.includes(camera.id)}
            aria-label={`Camera ${camera.letter}`}
            title={`${camera.letter} · ${camera.name}`}
            className={left.includes(camera.id) ? "opacity-30" : ""}
            onClick={() =>
              useAsked.setState({
                left: left.includes(camera.id)
                  ? left.filter((one) => one !== camera.id)
                  : [...left, camera.id],
              })
            }
          >
            <Letter letter={camera.letter} size={18} />
          </button>
        ))}
      </div>
      <Staying stays={stays} onSet={(keep) => useAsked.setState({ keep })} />
    </div>
  );
}

/** Which shots of the cut stay as they are. */
function Staying({ stays, onSet }: { stays: readonly string[]; onSet: (stays: string[]) => void }) {
  const shots = useDocument((s) => s.scene?.shots) ?? [];
  const there = shots.filter((shot) => shot.camera !== null);
  if (!there.length) return null;
  return (
    <details className="wide text-sm">
      <summary className="cursor-pointer text-faint">
        {stays.length ? `${stays.length} of ${there.length} shots stay` : "No shot stays as it is"}
      </summary>
      <div className="grid grid-cols-3 gap-x-2 py-1">
        {there.map((shot) => (
          <Tick
            key={shot.id}
            on={stays.includes(shot.id)}
            onSet={(on) => onSet(on ? [...stays, shot.id] : stays.filter((one) => one !== shot.id))}
          >
            {shot.name}
          </Tick>
        ))}
      </div>
    </details>
  );
}
