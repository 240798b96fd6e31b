import { useRef } from "react";
import { BUTTONS, useScreenPad } from "../operating/pad";
import { useHold } from "../ui/hold";

/** How far a stick can be pushed, pixels. */
const REACH = 26;

/** A stick to be pushed with the mouse; let go, it goes back to its middle. */
function Stick({ at, label }: { at: 0 | 2; label: string }) {
  const knob = useRef<HTMLSpanElement>(null);
  const push = (x: number, y: number) => {
    const far = Math.max(Math.hypot(x, y) / REACH, 1);
    const [px, py] = [x / far, y / far];
    if (knob.current) knob.current.style.transform = `translate(${px}px, ${py}px)`;
    useScreenPad.setState((s) => {
      const axes: typeof s.axes = [...s.axes];
      axes[at] = px / REACH;
      axes[at + 1] = py / REACH;
      return { axes };
    });
  };
  const hold = useHold();
  return (
    <div
      className="grid size-16 shrink-0 touch-none place-items-center rounded-full border border-line bg-well"
      title={label}
      data-testid={`stick-${at === 0 ? "left" : "right"}`}
      {...hold(() => ({
        move: (hand) => push(hand.dx, hand.dy),
        drop: () => push(0, 0),
        cancel: () => push(0, 0),
      }))}
    >
      <span ref={knob} className="size-6 rounded-full bg-slate" />
    </div>
  );
}

const ROWS: { label: string; pair: [keyof typeof BUTTONS, keyof typeof BUTTONS]; signs: [string, string] }[] =
  [
    { label: "Boom", pair: ["lower", "higher"], signs: ["down", "up"] },
    { label: "Zoom", pair: ["wider", "longer"], signs: ["wider", "longer"] },
    { label: "Focus", pair: ["nearer", "farther"], signs: ["nearer", "farther"] },
  ];

/** A gamepad for those who have none: the same two sticks, and the buttons that are used. */
export function ScreenPad() {
  const press = (button: number, down: boolean) =>
    useScreenPad.setState((s) => ({
      held: down ? [...s.held, button] : s.held.filter((one) => one !== button),
    }));
  return (
    <div
      className="flex items-center gap-2"
      data-testid="screen-pad"
      role="group"
      aria-label="Pad on the screen"
    >
      <Stick at={0} label="Truck and dolly" />
      <div className="flex flex-col gap-0.5">
        {ROWS.map(({ label, pair, signs }) => (
          <div key={label} className="flex items-center gap-1 text-xs text-faint">
            {pair.map((name, i) => (
              <button
                key={name}
                type="button"
                className="h-5 w-12 rounded-[3px] border border-line bg-sheet text-ink hover:bg-well active:bg-slate-wash"
                title={`${label}: ${signs[i]}, while it is held`}
                onPointerDown={(e) => {
                  e.currentTarget.setPointerCapture(e.pointerId);
                  press(BUTTONS[name], true);
                }}
                onPointerUp={() => press(BUTTONS[name], false)}
                onPointerCancel={() => press(BUTTONS[name], false)}
              >
                {signs[i]}
              </button>
            ))}
            {label}
          </div>
        ))}
      </div>
      <Stick at={2} label="Pan and tilt" />
    </div>
  );
}
