import { type PointerEvent as ReactPointerEvent, useCallback, useEffect, useRef } from "react";
import { type Point, toStage, useSpace } from "../store/space";

/** Something held on the plan: told where the hand is on the stage, and when it lets go. */
export interface Grab {
  move(at: Point, e: PointerEvent): void;
  drop(at: Point, moved: boolean, e: PointerEvent): void;
}

export type TakeHold = (e: ReactPointerEvent, make: (at: Point) => Grab) => void;

const CALM = 3;

type Sheet = React.RefObject<SVGSVGElement | null>;

function stageAt(sheet: Sheet, e: { clientX: number; clientY: number }): Point {
  const box = sheet.current?.getBoundingClientRect();
  return toStage(useSpace.getState(), e.clientX - (box?.left ?? 0), e.clientY - (box?.top ?? 0));
}

/** One hold at a time, followed over the whole window; Escape lets go with nothing done. */
export function useGrab(sheet: Sheet, onCancel: () => void): TakeHold {
  const held = useRef<{ grab: Grab; x: number; y: number; moved: boolean } | null>(null);
  useEffect(() => {
    const move = (e: PointerEvent) => {
      const now = held.current;
      if (!now) return;
      if (!now.moved && Math.hypot(e.clientX - now.x, e.clientY - now.y) < CALM) return;
      now.moved = true;
      now.grab.move(stageAt(sheet, e), e);
    };
    const up = (e: PointerEvent) => {
      const now = held.current;
      held.current = null;
      now?.grab.drop(stageAt(sheet, e), now.moved, e);
    };
    const key = (e: KeyboardEvent) => {
      if (e.key !== "Escape" || !held.current) return;
      e.stopImmediatePropagation();
      held.current = null;
      onCancel();
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("keydown", key, true);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("keydown", key, true);
    };
  });
  // The same function every time, so that marks which did not change are not drawn again.
  return useCallback(
    (e, make) => {
      e.stopPropagation();
      held.current = { grab: make(stageAt(sheet, e)), x: e.clientX, y: e.clientY, moved: false };
    },
    [sheet],
  );
}
