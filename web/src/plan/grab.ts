import { type PointerEvent as ReactPointerEvent, useCallback } from "react";
import { type Point, toStage, useSpace } from "../store/space";
import { type Hand, useHold } from "../ui/hold";

/** Something held on the plan: told where the hand is on the stage, and when it lets go. */
export interface Grab {
  move?(at: Point, hand: Hand): void;
  drop?(at: Point, moved: boolean, hand: Hand): void;
}

/** Handlers for a mark; `make` hears where on the stage it was pressed, and may decline with null. */
export type TakeHold = (make: (at: Point, e: ReactPointerEvent) => Grab | null) => {
  onPointerDown?: (e: ReactPointerEvent<never>) => void;
};

type Sheet = React.RefObject<SVGSVGElement | null>;

function stageAt(sheet: Sheet, x: number, y: number): Point {
  const box = sheet.current?.getBoundingClientRect();
  return toStage(useSpace.getState(), x - (box?.left ?? 0), y - (box?.top ?? 0));
}

/** A hold in stage metres. Escape lets go with nothing done. */
export function useGrab(sheet: Sheet, cancel: () => void): TakeHold {
  const hold = useHold();
  return useCallback(
    (make) =>
      hold((e) => {
        const grab = make(stageAt(sheet, e.clientX, e.clientY), e);
        return (
          grab && {
            move: (hand) => grab.move?.(stageAt(sheet, hand.x, hand.y), hand),
            drop: (hand, moved) => grab.drop?.(stageAt(sheet, hand.x, hand.y), moved, hand),
            cancel,
          }
        );
      }),
    [hold, sheet, cancel],
  );
}
