import { CircleDot, Gamepad2, X } from "lucide-react";
import { useEffect, useState } from "react";
import { catalogue } from "../api/catalogue";
import { WORKING, type Works } from "../operating/hand";
import { pluggedIn, useScreenPad } from "../operating/pad";
import { letGoOfIt, record, showPad } from "../operating/session";
import { cannot, operatedItem, passRange, useOperate, ZOOM_REMEDY } from "../operating/state";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { Button } from "../ui/button";
import { nextSpeed } from "../verbs/navigation";
import { Passes } from "./passes";
import { ScreenPad } from "./screen-pad";

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
export function OperatePanel() {
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
  const row = "flex items-center gap-2";
  return (
    <aside aria-label="Operate" className="flex h-full flex-col bg-paper text-sm" data-testid="operate">
      <div className="flex items-center border-b border-line px-3 py-2">
        <h2 className="heading flex-1">Operate {name}</h2>
        <Button tip="Leave operating" hint="Esc" onClick={letGoOfIt}>
          <X size={14} />
        </Button>
      </div>
      <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto px-3 py-2">
        <div className={row}>
          <Button
            tone={ready ? "wrong" : "main"}
            tip={
              ready
                ? `Counts ${catalogue.hand.count_in_s} in, then records ${first} to ${last} while it plays`
                : "Ends the pass and keeps it"
            }
            hint="Enter"
            onClick={record}
          >
            <CircleDot size={14} /> {ready ? "Record" : phase === "counting" ? "Stop" : "Keep"}
          </Button>
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
        </div>
        <OperatorLine />
        <label className={row}>
          <span className="text-faint">The hand works</span>
          <select
            aria-label="The hand works"
            className="field h-7! min-w-0 flex-1"
            value={works}
            disabled={!ready}
            onChange={(e) => {
              useOperate.setState({ works: e.target.value as Works });
              // Enter records, and the arrows are the hand's.
              e.currentTarget.blur();
            }}
          >
            {WORKING[thing.table].map((one) => (
              <option key={one.works} value={one.works}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
        {thing.table === "cameras" && (
          <label
            className={row}
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
        {screen && !plugged && <ScreenPad />}
        {ready && <Passes thing={thing.id} figure={thing.table === "figures"} />}
      </div>
    </aside>
  );
}

/** What whoever operates can do now. */
function OperatorLine() {
  const { works, phase } = useOperate();
  const { first, last } = passRange();
  const no = cannot(works);
  return (
    <p className={`text-xs ${no ? "text-brick" : "text-faint"}`} data-testid="operating">
      {no ? (
        `${no} ${ZOOM_REMEDY}`
      ) : phase === "counting" ? (
        "Get ready. Esc stops."
      ) : phase === "recording" ? (
        <>
          <b>Mouse</b> over the picture, <b>arrows</b> or <b>pad</b> are the hand. <b>Space</b> keeps it,{" "}
          <b>Esc</b> throws it away.
        </>
      ) : (
        <>
          <b>Enter</b> counts in and records {first}–{last}; a loop (Shift Home, Shift End) sets other frames.
        </>
      )}
    </p>
  );
}
