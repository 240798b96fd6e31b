import { useEffect, useRef } from "react";
import { letGoOfIt, mouseOver, operatorKey, padGone } from "../operating/session";
import { useOperate } from "../operating/state";
import { useMoment } from "../store/moment";
import { useView } from "../store/view";
import { buttonAt, keyboardIsOn } from "../ui/left-behind";
import { CountIn } from "./count-in";

/** Over the picture while somebody operates: the count-in, what is recorded, and the mouse that is the hand. */
export function Recording() {
  const phase = useOperate((s) => s.phase);
  const count = useOperate((s) => s.count);
  const first = useOperate((s) => s.first);
  const last = useOperate((s) => s.last);
  const stage = useMoment((s) => s.stage);
  const on = useOperate((s) => s.thing !== null);
  /** Where the mouse was; none before its first move here, which may come from anywhere. */
  const was = useRef<{ x: number; y: number } | null>(null);
  useEffect(() => {
    if (!on) return;
    // Before the desk and its panels: while it is recorded, the arrows are the hand's.
    const key = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      const busy = useOperate.getState().phase !== "ready";
      if (!busy && target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
      if (!busy && e.key !== "Escape" && keyboardIsOn(buttonAt(target))) return;
      if (!operatorKey(e, e.type === "keydown")) return;
      e.preventDefault();
      e.stopPropagation();
    };
    // Who selects something else wants its card. Led or driven, it may be watched through any camera.
    const unwatch = useView.subscribe(({ ids, kind, through }) => {
      const { thing, phase } = useOperate.getState();
      if (!thing || phase !== "ready" || ids.length === 0 || ids[0] === thing.id) return;
      const seen = kind === "camera" && typeof through === "object" && through.camera === ids[0];
      if (!seen || thing.table === "cameras") letGoOfIt();
    });
    window.addEventListener("keydown", key, true);
    window.addEventListener("keyup", key, true);
    window.addEventListener("gamepaddisconnected", padGone);
    return () => {
      unwatch();
      window.removeEventListener("keydown", key, true);
      window.removeEventListener("keyup", key, true);
      window.removeEventListener("gamepaddisconnected", padGone);
    };
  }, [on]);
  if (phase === "ready") return null;
  return (
    <div
      className="absolute inset-0 z-10 cursor-none touch-none overflow-hidden"
      data-testid="recording"
      onPointerLeave={() => {
        was.current = null;
      }}
      onPointerMove={(e) => {
        const { width } = e.currentTarget.getBoundingClientRect();
        const { clientX: x, clientY: y } = e;
        if (was.current) mouseOver((x - was.current.x) / width, (was.current.y - y) / width);
        was.current = { x, y };
      }}
    >
      {phase === "counting" ? (
        <CountIn count={count} />
      ) : (
        <p className="absolute top-2 left-1/2 flex -translate-x-1/2 items-center gap-1.5 rounded bg-brick px-2 py-0.5 text-sm text-sheet">
          <span className="size-2.5 rounded-full bg-sheet" /> {stage}
          <span className="opacity-80">
            of {first}–{last}
          </span>
        </p>
      )}
    </div>
  );
}
