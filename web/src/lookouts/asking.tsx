import { catalogue } from "../api/catalogue";
import type { LookAsked } from "../api/types";
import { useDocument } from "../store/document";
import { Button } from "../ui/button";
import { ownKeys } from "../ui/own-keys";

/** Everything of a view that can be asked for. */
export type Wish = Required<Omit<LookAsked, "figures">> & { figures: string[] };
export const NO_WISH: Wish = {
  figures: [], size: null, way: null, high: null, over: null, through: null, thing: null, either_side: false,
}; // biome-ignore format: one look
const ANY = { value: "", label: "any" };
const plain = <T extends string>(words: readonly T[]) => words.map((value) => ({ value, label: value }));

/** Whom, how large, from where, and with what: each left open until it is wished for. */
export function Asking({ wish, onWish }: { wish: Wish; onWish: (wish: Wish) => void }) {
  const scene = useDocument((s) => s.scene);
  const figures = scene?.figures.filter((one) => !one.hidden) ?? [];
  const set = (more: Partial<Wish>) => onWish({ ...wish, ...more });
  const others = figures.filter((one) => !wish.figures.includes(one.id));
  const from = wish.over ? `over ${wish.over}` : wish.through ? `through ${wish.through}` : (wish.way ?? "");
  const things = [
    ...(scene?.movers ?? []).map((one) => ({ value: `mover ${one.id}`, label: one.name })),
    ...(scene?.pieces ?? [])
      .filter((one) => !one.part_of && one.kind !== "reeds")
      .map((one) => ({ value: `piece ${one.id}`, label: one.name })),
  ];
  const thing = wish.thing
    ? wish.thing.kind === "mover"
      ? `mover ${wish.thing.mover}`
      : `piece ${wish.thing.piece}`
    : "";
  const onFrom = (value: string) => {
    const [how, id] = value.split(" ");
    const none = { over: null, through: null, way: null };
    if (how === "over" && id) set({ ...none, over: id });
    else if (how === "through" && id) set({ ...none, through: id });
    else set({ ...none, way: (value || null) as Wish["way"] });
  };
  return (
    <div className="flex flex-col gap-1.5">
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="Whom">
        <span className="text-sm text-faint">Whom</span>
        {figures.map((one) => (
          <Button
            key={one.id}
            on={wish.figures.includes(one.id)}
            onClick={() => {
              const next = wish.figures.includes(one.id)
                ? wish.figures.filter((id) => id !== one.id)
                : [...wish.figures, one.id];
              // Nobody is seen over their own shoulder.
              const free = (id: string | null) => (id && next.includes(id) ? null : id);
              set({ figures: next, over: free(wish.over), through: free(wish.through) });
            }}
          >
            {one.name}
          </Button>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-x-2 gap-y-1">
        <Pick
          label="Size"
          value={wish.size ?? ""}
          options={[ANY, ...plain(catalogue.shot_sizes as string[])]}
          onSet={(value) => set({ size: value || null })}
        />
        <Pick
          label="From"
          value={from}
          options={[
            ANY,
            ...plain(["front", "three-quarter", "profile", "behind"]),
            ...others.map((one) => ({ value: `over ${one.id}`, label: `over ${one.name}'s shoulder` })),
            ...others.map((one) => ({ value: `through ${one.id}`, label: `through ${one.name}'s eyes` })),
          ]}
          onSet={onFrom}
        />
        <Pick
          label="Height"
          value={wish.high ?? ""}
          options={[ANY, ...plain(["low", "eye level", "high"])]}
          onSet={(value) => set({ high: (value || null) as Wish["high"] })}
        />
        <Pick
          label="With"
          value={thing}
          options={[{ value: "", label: "nothing more" }, ...things]}
          onSet={(value) => {
            const [kind, id] = value.split(" ");
            const on = kind === "mover" ? { kind: "mover", mover: id } : { kind: "piece", piece: id };
            set({ thing: value ? (on as Wish["thing"]) : null });
          }}
        />
      </div>
      <label className="flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="accent-slate"
          checked={wish.either_side}
          onChange={(e) => set({ either_side: e.target.checked })}
        />
        Either side of the line of action
      </label>
    </div>
  );
}

interface PickProps {
  label: string;
  value: string;
  options: { value: string; label: string }[];
  onSet: (value: string) => void;
}

/** One of a list, under its name: two stand side by side. */
function Pick({ label, value, options, onSet }: PickProps) {
  return (
    <label className="flex min-w-0 flex-col text-xs text-faint">
      {label}
      <select
        aria-label={label}
        className="field min-w-0 text-sm text-ink"
        value={value}
        onChange={(e) => onSet(e.target.value)}
        onKeyDown={ownKeys}
      >
        {options.map((one) => (
          <option key={one.value} value={one.value}>
            {one.label}
          </option>
        ))}
      </select>
    </label>
  );
}
