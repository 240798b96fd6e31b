import { CircleDot, Gamepad2, X } from "lucide-react";
import { useEffect, useState } from "react";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { Button } from "../ui/button";
import { nextSpeed } from "../verbs/going";
import type { Works } from "./hand";
import { pluggedIn, useScreenPad } from "./pad";
import { Passes } from "./passes";
import { ScreenPad } from "./screen-pad";
import { letGoOfIt, record, showPad } from "./session";
import { COUNT_IN, cannot, operatedItem, passRange, useOperate, WORKS } from "./state";

/** Whether a gamepad is plugged in; browsers tell once a button of it was pressed. */
function usePad(): boolean {
  const [there, setThere] = useState(pluggedIn() !== null);
  useEffect(() => {
    const look = () => setThere(pluggedIn() !== null);
    window.addEventListener("gamepadconnected", look);
    window.addEventListener("gamepaddisconnected", look);
    return () => {
      window.removeEventListener("gamepadconnected", look);
      window.removeEventListener("gamepaddisconnected", look);
    };
  }, []);
  return there;
}

/** Working something by hand while the stage plays: what the hand works, recording, and the passes so far. */
export function OperateBar() {
  const { thing, works, onTop, phase } = useOperate();
  const scene = useDocument((s) => s.scene);
  const speed = useMoment((s) => s.speed);
  useMoment((s) => s.stage);
  useMoment((s) => s.loop);
  const plugged = usePad();
  const screen = useScreenPad((s) => s.shown);
  const item = operatedItem(thing);
  useEffect(() => {
    if (scene && thing && !item) letGoOfIt();
  }, [scene, thing, item]);
  if (!thing || !item) return null;
  const { first, last } = passRange();
  const ready = phase === "ready";
  const name = "letter" in item ? `camera ${item.letter}` : item.name;
  return (
    <section
      aria-label="Operate"
      className="flex flex-col gap-1.5 border-t border-line bg-brick-wash/40 px-3 py-1.5 text-sm"
      data-testid="operate"
    >
      <div className="flex flex-wrap items-center gap-2">
        <Button
          tone={ready ? "wrong" : "main"}
          tip={
            ready
              ? `Counts ${COUNT_IN} in, then records ${first} to ${last} while it plays`
              : "Ends the pass and keeps it"
          }
          hint="Enter"
          onClick={record}
        >
          <CircleDot size={14} /> {ready ? "Record" : phase === "counting" ? "Stop" : "Keep"}
        </Button>
        <label className="flex items-center gap-1">
          <span className="text-faint">{name}:</span>
          <select
            aria-label="The hand works"
            className="field h-7! w-auto"
            value={works}
            disabled={!ready}
            onChange={(e) => {
              useOperate.setState({ works: e.target.value as Works });
              // Enter records, and the arrows are the hand's.
              e.currentTarget.blur();
            }}
          >
            {WORKS[thing.table].map((one) => (
              <option key={one.value} value={one.value}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
        {thing.table === "cameras" && (
          <label
            className="flex items-center gap-1"
            title="The hand is added to what its keys and layers do, instead of beginning from where it stands"
          >
            <input
              type="checkbox"
              checked={onTop || works === "all"}
              disabled={!ready || works === "all"}
              onChange={(e) => useOperate.setState({ onTop: e.target.checked })}
            />
            on top of its move
          </label>
        )}
        <Button
          tip="How fast it plays while it is recorded: as it is, half as fast, a quarter as fast"
          hint="R"
          on={speed < 1}
          onClick={nextSpeed}
        >
          {speed === 1 ? "1×" : speed === 0.5 ? "½×" : "¼×"}
        </Button>
        <Button
          tip={plugged ? "A gamepad is plugged in" : "A pad on the screen, for those who have no gamepad"}
          on={plugged || screen}
          disabled={plugged}
          onClick={() => showPad(!screen)}
        >
          <Gamepad2 size={14} /> {plugged ? "Gamepad" : screen ? "Unplug" : "Pad"}
        </Button>
        <span className="flex-1" />
        <Button tip="Leave operating" hint="Esc" onClick={letGoOfIt}>
          <X size={14} />
        </Button>
      </div>
      {screen && !plugged && <ScreenPad />}
      {ready && <Passes thing={thing.id} figure={thing.table === "figures"} />}
    </section>
  );
}

/** What whoever operates can do now, for the line under the picture. */
export function OperatorLine() {
  const { works, phase } = useOperate();
  useMoment((s) => s.stage);
  useMoment((s) => s.loop);
  const { first, last } = passRange();
  const no = cannot(works);
  if (no) return <p className="truncate text-brick">{no} Mount a zoom, or take the lens off on the card.</p>;
  if (phase === "counting") return <p>Get ready. Esc stops.</p>;
  if (phase === "recording")
    return (
      <p>
        <b>Mouse</b>, <b>arrows</b> or <b>pad</b> are the hand · <b>Space</b> keeps it · <b>Esc</b> throws it
        away
      </p>
    );
  return (
    <p className="truncate">
      <b>Enter</b> counts in and records {first}–{last}, or the loop (Shift Home, Shift End) · the hand is the{" "}
      <b>mouse</b>, the <b>arrows</b> or a <b>pad</b>
    </p>
  );
}
