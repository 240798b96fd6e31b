import { type PointerEvent as ReactPointerEvent, useCallback } from "react";
import { type Point, toStage, useSpace } from "../store/space";
import { type Hand, useHold } from "../ui/hold";

/** Something held on the plan: told where the hand is on the stage, and when it lets go. */
export interface Grab {
  /** At the sheet's edge the sheet goes on under it. */
  goesOn?: boolean;
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

/** Nearer to the edge than this, the sheet goes on under what is carried: pixels, and pixels a tick. */
const EDGE = 26;
const PACE = 7;
const TICK_MS = 30;

/** How far the sheet has to go on for a hand at its edge, pixels. */
function beyond(sheet: Sheet, hand: Hand): Point {
  const box = sheet.current?.getBoundingClientRect();
  if (!box) return [0, 0];
  const way = (at: number, low: number, high: number) =>
    at < low + EDGE ? -PACE : at > high - EDGE ? PACE : 0;
  return [way(hand.x, box.left, box.right), way(hand.y, box.top, box.bottom)];
}

/** A hold in stage metres. Escape lets go with nothing done. */
export function useGrab(sheet: Sheet, cancel: () => void): TakeHold {
  const hold = useHold();
  return useCallback(
    (make) =>
      hold((e) => {
        const grab = make(stageAt(sheet, e.clientX, e.clientY), e);
        if (!grab) return null;
        let timer = 0;
        const still = () => window.clearInterval(timer);
        const goOn = (hand: Hand) => {
          still();
          const [x, y] = grab.goesOn ? beyond(sheet, hand) : [0, 0];
          if (!x && !y) return;
          timer = window.setInterval(() => {
            const { cx, cz, scale } = useSpace.getState();
            useSpace.setState({ cx: cx + x / scale, cz: cz + y / scale });
            grab.move?.(stageAt(sheet, hand.x, hand.y), hand);
          }, TICK_MS);
        };
        return {
          move: (hand) => {
            goOn(hand);
            grab.move?.(stageAt(sheet, hand.x, hand.y), hand);
          },
          drop: (hand, moved) => {
            still();
            grab.drop?.(stageAt(sheet, hand.x, hand.y), moved, hand);
          },
          cancel: () => {
            still();
            cancel();
          },
        };
      }),
    [hold, sheet, cancel],
  );
}
