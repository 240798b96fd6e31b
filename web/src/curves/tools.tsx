import { Maximize2 } from "lucide-react";
import { BITS, KEY } from "../api/samples";
import { useCurves } from "../store/curves";
import { countPicked, pickedAfter, useKeysPicked } from "../store/picked";
import { usePreferences } from "../store/preferences";
import { Button } from "../ui/button";
import { Menu, MenuItem } from "../ui/menu";
import { copied, fit, paste, withPicked } from "../verbs/curves";
import { More } from "./key-menu";
import { Handles, Kind, Numbers, Tied } from "./key-numbers";
import type { Shown } from "./lines";
import { MendBar } from "./mend-bar";

/** What is picked, as its numbers, and everything that can be done with it. */
export function Tools({ shown, rows }: { shown: Shown; rows: boolean }) {
  const now = useKeysPicked((s) => s.picked);
  const shared = useKeysPicked((s) => s.shared);
  const strip = usePreferences((s) => s.strip);
  const { curves } = useCurves();
  const count = countPicked(now);
  const name =
    shown.active && now[shown.active]?.length
      ? shown.active
      : (Object.keys(now).find((n) => now[n].length) ?? "");
  const spec = shown.lines.find((line) => line.spec.name === name)?.spec;
  const drawn = (shown.tried.find((line) => line.spec.name === name)?.curve ?? curves[name])?.keys;
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
      className="relative z-11 flex h-8 shrink-0 items-center gap-2 border-b border-line bg-paper px-2"
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
          <Numbers spec={spec} first={first} keys={drawn} />
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
            At the playhead, unchanged
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
        onClick={() => usePreferences.setState({ strip: !strip })}
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
