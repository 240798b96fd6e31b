import { useDrag } from "@use-gesture/react";
import { type PointerEvent as ReactPointerEvent, useCallback, useEffect, useRef } from "react";

/** Where the hand is, pixels of the window, and how far it has come since it took hold. */
export interface Hand {
  x: number;
  y: number;
  dx: number;
  dy: number;
  alt: boolean;
  shift: boolean;
  ctrl: boolean;
}

/** Something held: told where the hand goes, and when it lets go; `moved` is false for a mere press. */
export interface Held {
  move?(hand: Hand): void;
  drop?(hand: Hand, moved: boolean): void;
  /** Escape, or the system took the pointer away: nothing is done. */
  cancel?(): void;
}

/** Handlers to spread on what can be held; `make` says at the press what is held, or null for nothing. */
export type Hold = (make: (e: ReactPointerEvent) => Held | null) => {
  onPointerDown?: (e: ReactPointerEvent<never>) => void;
};

const CALM = 3;

/** One hold at a time, followed over the whole window; Escape lets go with nothing done. */
export function useHold(): Hold {
  const held = useRef<Held | null>(null);
  const stop = useRef<(() => void) | null>(null);
  const bind = useDrag(
    ({ xy: [x, y], initial, altKey, shiftKey, ctrlKey, tap, last, canceled, cancel, event }) => {
      const now = held.current;
      if (!now) return;
      stop.current = cancel;
      const [dx, dy] = [x - initial[0], y - initial[1]];
      const hand = { x, y, dx, dy, alt: altKey, shift: shiftKey, ctrl: ctrlKey };
      // A press that never moved has not begun for the library, so that it has no last event.
      const ended = last || tap;
      if (ended) held.current = null;
      if (canceled || event.type === "pointercancel") {
        held.current = null;
        now.cancel?.();
      } else if (ended) now.drop?.(hand, !tap);
      else now.move?.(hand);
    },
    {
      filterTaps: true,
      threshold: CALM,
      // Followed by the window, so that what is held may be drawn again meanwhile.
      pointer: { capture: false, buttons: -1, keys: false },
    },
  );
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const now = held.current;
      if (e.key !== "Escape" || !now) return;
      e.stopImmediatePropagation();
      held.current = null;
      stop.current?.();
      now.cancel?.();
    };
    window.addEventListener("keydown", key, true);
    return () => window.removeEventListener("keydown", key, true);
  }, []);
  // The same function every time, so that marks which did not change are not drawn again.
  const steady = useRef(bind);
  return useCallback((make) => {
    const on = steady.current() as { onPointerDown?: (e: ReactPointerEvent) => void };
    return {
      ...on,
      onPointerDown: (e: ReactPointerEvent) => {
        const taken = make(e);
        if (!taken) return;
        e.stopPropagation();
        held.current = taken;
        stop.current = null;
        on.onPointerDown?.(e);
      },
    };
  }, []);
}
