import { Link2, Link2Off, Maximize2, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { BITS, KEY } from "../api/samples";
import type { Channel, ChannelSpec, Does, KeyKind } from "../api/types";
import { useCurves } from "../store/curves";
import { countPicked, pickedAfter, shownValue, useKeysPicked } from "../store/picked";
import { useWishes } from "../store/wishes";
import { Button } from "../ui/button";
import { Menu, MenuItem, Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import {
  copied,
  copyPicked,
  editKeys,
  fit,
  matchZoom,
  paste,
  picked,
  shiftFrames,
  withPicked,
} from "../verbs/curves";
import type { Shown } from "./lines";
import { MendBar } from "./mend-bar";

const KINDS: KeyKind[] = ["held", "straight", "eased", "shaped"];

type OneKey = Channel["keys"][number];

/** What is picked, as its numbers, and everything that can be done with it. */
export function Tools({ shown, rows }: { shown: Shown; rows: boolean }) {
  const now = useKeysPicked((s) => s.picked);
  const shared = useKeysPicked((s) => s.shared);
  const strip = useWishes((s) => s.strip);
  const { curves } = useCurves();
  const count = countPicked(now);
  const name =
    shown.active && now[shown.active]?.length
      ? shown.active
      : (Object.keys(now).find((n) => now[n].length) ?? "");
  const spec = shown.lines.find((line) => line.spec.name === name)?.spec;
  // As the hand would leave them, while it drags.
  const live = pickedAfter(now, shown.stored, shown.now);
  const on = new Set(live[name]);
  const first = shown.now[name]?.keys.find((k) => on.has(k.frame));
  const every = Object.entries(now).flatMap(([n, frames]) => {
    const chosen = new Set(frames);
    return (shown.stored[n]?.keys ?? []).filter((k) => chosen.has(k.frame));
  });
  const over = shown.names.some((n) => overshoots(curves[n]?.keys, new Set(now[n])));
  const hitch = useKeysPicked((s) => s.hitch);
  if (hitch) return <MendBar hitch={hitch} />;
  return (
    <div
      className="flex h-8 shrink-0 items-center gap-2 border-b border-line bg-paper px-2"
      data-testid="curve-tools"
    >
      {first && spec ? (
        <>
          <span className="w-24 truncate text-xs text-faint" data-testid="picked-count">
            {count === 1 ? `1 key, ${spec.label.toLowerCase()}` : `${count} keys`}
          </span>
          <Kind side="before" label="In" keys={every} />
          <Kind side="after" label="Out" keys={every} />
          <Tied keys={every} />
          <Numbers spec={spec} first={first} />
          {count === 1 && !rows && (
            <Handles spec={spec} name={name} first={first} keys={curves[name]?.keys} />
          )}
          <More spec={spec} />
        </>
      ) : (
        <span className="text-xs text-faint">
          Drag a box round keys to pick them; double-click a curve for one more. K sets keys at the playhead.
        </span>
      )}
      <span className="flex-1" />
      {over && (
        <Button
          className="h-6 border-brick! text-brick"
          tip="The handles of these keys carry their curves past the values on both sides"
          onClick={() => void withPicked((all) => ({ kind: "keys.within", keys: all }))}
        >
          Keep it within
        </Button>
      )}
      {copied().length > 0 && (
        <Menu
          trigger={
            <Button className="h-6" tip="Put the copied keys at the playhead" hint="Ctrl V">
              Paste
            </Button>
          }
        >
          <MenuItem onSelect={() => void paste()} note="Ctrl V">
            At the playhead, as they were
          </MenuItem>
          <MenuItem onSelect={() => void paste({ join: true })} note="Ctrl Shift V">
            Going on from the value that is there
          </MenuItem>
        </Menu>
      )}
      <Button
        className="h-6"
        on={strip}
        tip="The subject as the audience sees it, under the curves: size, place, the camera's pace, the background"
        onClick={() => useWishes.setState({ strip: !strip })}
      >
        Seen
      </Button>
      {!rows && (
        <>
          <Button
            className="h-6"
            on={shared}
            tip={
              shared
                ? "Channels of one unit stand on one scale"
                : "Each curve stands on a scale of its own; press to share one for each unit"
            }
            onClick={() => {
              useKeysPicked.setState({ shared: !shared });
              fit(shown.names);
            }}
          >
            {shared ? "One scale" : "Own scales"}
          </Button>
          <Button className="h-6" tip="Fit the curves" hint="F" onClick={() => fit(shown.names)}>
            <Maximize2 size={13} />
          </Button>
        </>
      )}
    </div>
  );
}

/** Whether a handle carries a curve past its values, of some keys. */
function overshoots(keys: Float32Array | undefined, frames: Set<number>): boolean {
  if (!keys) return false;
  for (let i = 0; i < keys.length; i += KEY.size)
    if (keys[i + KEY.bits] & (BITS.overBefore | BITS.overAfter) && frames.has(keys[i])) return true;
  return false;
}

/** How the curves come into the picked keys, or go out of them. */
function Kind({ side, label, keys }: { side: "before" | "after"; label: string; keys: OneKey[] }) {
  const kinds = new Set(keys.map((k) => k[side]));
  const all = kinds.size === 1 ? [...kinds][0] : "";
  return (
    <label className="flex items-center gap-1 text-xs text-faint">
      {label}
      <select
        aria-label={side === "before" ? "Come in" : "Go out"}
        className="field min-h-6! w-20 px-1! py-0! text-xs"
        value={all}
        onChange={(e) =>
          void withPicked((at) => ({ kind: "keys.shape", keys: at, [side]: e.target.value as KeyKind }))
        }
        onKeyDown={(e) => e.stopPropagation()}
      >
        {!all && <option value="">mixed</option>}
        {KINDS.filter((kind) => side === "after" || kind !== "held").map((kind) => (
          <option key={kind}>{kind}</option>
        ))}
      </select>
    </label>
  );
}

/** Whether the two handles of a key turn together. */
function Tied({ keys }: { keys: OneKey[] }) {
  if (!keys.some((k) => k.before === "shaped" && k.after === "shaped")) return null;
  const tied = keys.every((k) => k.tied);
  return (
    <Button
      className="h-6 px-1.5!"
      on={tied}
      tip={
        tied
          ? "Both handles turn together; press to free them"
          : "Each handle turns by itself; press to tie them"
      }
      onClick={() => void withPicked((at) => ({ kind: "keys.shape", keys: at, tied: !tied }))}
    >
      {tied ? <Link2 size={13} /> : <Link2Off size={13} />}
    </Button>
  );
}

/** The frame and value of the first of the picked keys: typed anew, the lot goes with it. */
function Numbers({ spec, first }: { spec: ChannelSpec; first: OneKey }) {
  const shown = shownValue(spec, first.value);
  return (
    <>
      <div className="w-32">
        <NumberField
          compact
          label="Frame"
          value={first.frame}
          digits={0}
          step={1}
          onSet={(to) => editKeys({ kind: "keys.move", keys: picked(), by: Math.round(to) - first.frame })}
        />
      </div>
      <div className="w-36">
        <NumberField
          compact
          label={spec.label}
          front={spec.front || undefined}
          unit={spec.unit}
          value={shown}
          digits={Math.max(spec.digits, 2)}
          step={spec.step}
          onSet={(to) =>
            editKeys({ kind: "keys.move", keys: picked(), to, measure: spec.measure, channel: spec.name })
          }
        />
      </div>
    </>
  );
}

/** The handles of one key in numbers. */
function Handles({
  spec,
  name,
  first,
  keys,
}: {
  spec: ChannelSpec;
  name: string;
  first: OneKey;
  keys: Float32Array | undefined;
}) {
  const sides = (["before", "after"] as const).filter((side) => first[side] === "shaped");
  const { thing } = useCurves();
  if (sides.length === 0 || !keys || !thing) return null;
  const at = keys.findIndex((_, i) => i % KEY.size === 0 && keys[i] === first.frame);
  return (
    <Popped
      label="Handles"
      trigger={
        <Button className="h-6" tip="The handles in numbers">
          Handles
        </Button>
      }
    >
      <div className="grid w-60 gap-1.5 p-1.5">
        {sides.map((side) => {
          const from = at + (side === "before" ? KEY.backX : KEY.outX);
          const [frames, value] = [keys[from], keys[from + 1]];
          const put = (f: number, v: number) =>
            editKeys({
              kind: "keys.handle",
              keys: [{ thing, channel: name, frame: first.frame }],
              side,
              frames: f,
              value: v,
            });
          const word = side === "before" ? "In" : "Out";
          return (
            <div key={side} className="grid gap-1">
              <NumberField
                label={`${word}, frames`}
                value={frames}
                digits={2}
                step={0.5}
                onSet={(f) => put(f, value)}
              />
              <NumberField
                label={`${word}, ${spec.measure === "stops" ? "stops" : spec.unit || "value"}`}
                value={value}
                digits={3}
                step={spec.step}
                onSet={(v) => put(frames, v)}
              />
            </div>
          );
        })}
      </div>
    </Popped>
  );
}

/** Everything else that picked keys can be made to do. */
function More({ spec }: { spec: ChannelSpec }) {
  const [about, setAbout] = useState<"first" | "middle" | "last">("first");
  const [error, setError] = useState<number | null>(null);
  const scaled = (more: Partial<Does<"keys.scale">>) =>
    ({ kind: "keys.scale", keys: picked(), about, ...more }) as const;
  const scale = (more: Partial<Does<"keys.scale">>) => withPicked((keys) => ({ ...scaled(more), keys }));
  return (
    <>
      <Menu
        trigger={
          <Button className="h-6" tip="What else can be done with these keys">
            <MoreHorizontal size={14} />
          </Button>
        }
      >
        <MenuItem onSelect={copyPicked} note="Ctrl C">
          Copy
        </MenuItem>
        <MenuItem
          onSelect={() => void scale({ in_value: -1, about: "middle" })}
          note="High for low, about their middle"
        >
          Mirror
        </MenuItem>
        <MenuItem onSelect={() => void scale({ in_time: -1, about: "middle" })} note="The last comes first">
          Reverse in time
        </MenuItem>
        <MenuItem onSelect={() => void withPicked((keys) => ({ kind: "keys.spread", keys }))}>
          Spread evenly
        </MenuItem>
        <MenuItem
          onSelect={() => void withPicked((keys) => ({ kind: "keys.stagger", keys, by: 4 }))}
          note="Direction 4 frames after place, the lens 4 after that"
        >
          Turn after the move
        </MenuItem>
        <MenuItem
          onSelect={() => void matchZoom("lens")}
          note="A dolly zoom: the subject of the strip keeps its size"
        >
          Have the lens go with the distance
        </MenuItem>
        <MenuItem onSelect={() => void matchZoom("distance")} note="The other way round">
          Have the distance go with the lens
        </MenuItem>
        <MenuItem onSelect={() => void withPicked((keys) => ({ kind: "keys.within", keys }))}>
          Keep within their values
        </MenuItem>
      </Menu>
      <Popped
        label="Scale and simplify"
        trigger={
          <Button className="h-6" tip="Scale these keys about one of them, stagger them, or make few of many">
            Scale…
          </Button>
        }
      >
        <div className="grid w-64 gap-1.5 p-1.5">
          <label className="flex items-center gap-2 text-sm text-faint">
            <span className="flex-1">About the</span>
            <select
              aria-label="About the"
              className="field"
              value={about}
              onChange={(e) => setAbout(e.target.value as typeof about)}
            >
              <option value="first">first key</option>
              <option value="middle">middle</option>
              <option value="last">last key</option>
            </select>
          </label>
          <NumberField
            label="Times as long"
            value={1}
            digits={2}
            step={0.05}
            onSet={(n) => editKeys(scaled({ in_time: n }))}
          />
          <NumberField
            label="Times as high"
            value={1}
            digits={2}
            step={0.05}
            onSet={(n) => editKeys(scaled({ in_value: n }))}
          />
          <NumberField
            label="Turn after the move by"
            unit="f"
            value={0}
            digits={0}
            step={1}
            onSet={(n) => editKeys({ kind: "keys.stagger", keys: picked(), by: Math.round(n) })}
          />
          <NumberField
            label="Frames in at the playhead"
            unit="f"
            value={0}
            digits={0}
            step={1}
            onSet={(n) => shiftFrames(Math.round(n))}
          />
          <p className="text-xs text-faint">
            Later keys of the curves that are shown follow; fewer than none takes frames out.
          </p>
          <div className="mt-1 border-t border-line pt-1.5">
            <NumberField
              label="Simplify within"
              unit={spec.measure === "stops" ? "stops" : spec.unit}
              value={error ?? USUAL[spec.measure]}
              digits={3}
              step={0.005}
              onSet={async (n) => {
                setError(n);
                return null;
              }}
            />
            <Button
              className="mt-1 w-full"
              onClick={() =>
                void withPicked((keys) => ({
                  kind: "keys.simplify",
                  keys,
                  within: { [spec.measure]: error ?? USUAL[spec.measure] },
                }))
              }
            >
              Make few keys of these
            </Button>
          </div>
        </div>
      </Popped>
    </>
  );
}

/** What an error is set to before it is typed; the core has its own for the other measures. */
const USUAL: Record<ChannelSpec["measure"], number> = {
  metres: 0.005,
  degrees: 0.05,
  millimetres: 0.1,
  stops: 0.02,
  plain: 0.005,
};
