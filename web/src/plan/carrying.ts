import type { Command } from "../api/types";
import { useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import type { Point } from "../store/space";
import { leavePose, type Touched, tryPose } from "../store/unsaved";
import { complain } from "../store/view";
import type { Hand } from "../ui/hold";
import type { By, Carried } from "../verbs/carry";
import type { Grab } from "./grab";

interface Also {
  /** Before the first try: what the hand is on is selected. */
  pick?: () => void;
  /** A press without a move. */
  click?: (hand: Hand) => void;
}

/** Tries a command wherever the hand is, and does it where the hand lets go; with Alt, places are free. */
export function carrying(command: (at: Point, free: boolean) => Command, also: Also = {}): Grab {
  return {
    move: (at, hand) => {
      also.pick?.();
      tryOut(command(at, hand.alt), useMoment.getState().stage);
    },
    drop: async (at, moved, hand) => {
      if (!moved) return also.click?.(hand);
      endTry();
      complain(await send(command(at, hand.alt)));
    },
  };
}

/** The same for a camera's pose, which stays unsaved where the camera has keys. */
export function placing(
  camera: string,
  pose: (at: Point, free: boolean) => Touched | null,
  also: Also = {},
): Grab {
  return {
    move: (at, hand) => {
      also.pick?.();
      const next = pose(at, hand.alt);
      if (next) tryPose(camera, next);
    },
    drop: (at, moved, hand) => {
      if (!moved) return also.click?.(hand);
      const next = pose(at, hand.alt);
      if (next) void leavePose(camera, next);
    },
  };
}

/** Something carried over the plan by a hand that took it at a place. */
export function carriedOver(what: Carried<By> | null, from: Point, click: (hand: Hand) => void): Grab | null {
  if (!what) return null;
  const by = (at: Point, hand: Hand) => ({
    dx: at[0] - from[0],
    dy: 0,
    dz: at[1] - from[1],
    free: hand.alt,
    through: hand.shift,
  });
  return {
    goesOn: true,
    move: (at, hand) => {
      what.pick();
      what.show(by(at, hand));
    },
    drop: (at, moved, hand) => (moved ? void what.keep(by(at, hand)) : click(hand)),
  };
}
