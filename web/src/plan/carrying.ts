import type { Command } from "../api/types";
import { leavePose, type Touched, tryPose } from "../store/loose";
import { useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import type { Point } from "../store/space";
import { complain } from "../store/view";
import type { Grab } from "./grab";

interface Also {
  /** Before the first try: what the hand is on is selected. */
  pick?: () => void;
  /** A press without a move. */
  click?: (e: PointerEvent) => void;
}

/** Tries a command wherever the hand is, and does it where the hand lets go; with Alt, places are free. */
export function carrying(command: (at: Point, free: boolean) => Command, also: Also = {}): Grab {
  return {
    move: (at, e) => {
      also.pick?.();
      tryOut(command(at, e.altKey), useMoment.getState().stage);
    },
    drop: async (at, moved, e) => {
      if (!moved) return also.click?.(e);
      endTry();
      complain(await send(command(at, e.altKey)));
    },
  };
}

/** The same for a camera's pose, which stays loose where the camera has keys. */
export function placing(
  camera: string,
  pose: (at: Point, free: boolean) => Touched | null,
  also: Also = {},
): Grab {
  return {
    move: (at, e) => {
      also.pick?.();
      const next = pose(at, e.altKey);
      if (next) tryPose(camera, next);
    },
    drop: (at, moved, e) => {
      if (!moved) return also.click?.(e);
      const next = pose(at, e.altKey);
      if (next) void leavePose(camera, next);
    },
  };
}
