import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { catalogue } from "../api/catalogue";
import type { ChannelSpec, Does } from "../api/types";
import { Button } from "../ui/button";
import { Menu, MenuItem, Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { copyPicked, editKeys, matchZoom, picked, shiftFrames, withPicked } from "../verbs/curves";

/** Everything else that picked keys can be made to do. */
export function More({ spec }: { spec: ChannelSpec }) {
  const [about, setAbout] = useState<"first" | "middle" | "last">("first");
  const [error, setError] = useState<number | null>(null);
  const usual = catalogue.simplified_within;
  const within = error ?? usual[spec.measure] ?? 0;
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
              unit={spec.kept_unit}
              value={within}
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
                  within: { [spec.measure]: within },
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
