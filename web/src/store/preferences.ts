import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Does } from "../api/types";

/** What gives when the stop changes. */
export type Hold = NonNullable<Does<"camera.glass">["hold"]>;

interface Preferences {
  hold: Hold;
  /** The small picture: shown at all, side by side with the big one, and how wide it stands docked, pixels. */
  inset: boolean;
  beside: boolean;
  insetWidth: number;
  /** The same while a camera looks, and it lies on the plan. */
  insetNarrow: number;
  /** Only the lanes of figures, of what is selected and of what is on air. */
  folded: boolean;
  /** What stands under the stage's ruler: lanes, the curves of what is chosen, or its keys in rows. */
  below: "lanes" | "curves" | "rows";
  /** The strip of the subject as the audience sees it, under the curves. */
  strip: boolean;
  /** The rover's picture shows the frame that a camera made of it would take. */
  roverFrame: boolean;
  /** A perch saved from a camera keeps its lens and focus. */
  perchLens: boolean;
  /** What later acts of a lane do when an earlier one ends at another frame: not asked yet, stay, or move along. */
  laterActs: "ask" | "stay" | "follow";
  /** How many frames apart the chosen camera stands on the plan as a ghost of itself; 0 for none. */
  ghosts: number;
  /** Cutting live: seconds that a hand takes, by which a cut is moved earlier, and the least frames of a shot. */
  reaction: number;
  shortest: number;
  /** Whose pictures are on the wall, and how many stand beside each other; 0, as many as make them largest. */
  wallOf: "all" | "shot" | "cut" | "chosen" | "figure";
  wallColumns: number;
  /** Where a version of another length is chosen, the rest of the cut stays where it is. */
  versionsStay: boolean;
  /** The other versions of shots lie under them on the strip. */
  versionRows: boolean;
  /** How a shot's board is held against its camera's picture, and how strong it lies over it, to 1. */
  boards: "hidden" | "beside" | "over";
  boardStrength: number;
  /** The same for the reference movie. */
  movie: "hidden" | "beside" | "over";
  movieStrength: number;
  /** What plays is heard. */
  sound: boolean;
  /** How high over the floor the plan cuts what was brought in, metres. */
  planCut: number;
}

/** How somebody likes to work: the same in every scene, and remembered from day to day. */
export const usePreferences = create<Preferences>()(
  persist(
    (): Preferences => ({
      hold: "iso",
      inset: true,
      beside: false,
      insetWidth: 168,
      insetNarrow: 132,
      folded: false,
      below: "lanes",
      laterActs: "ask",
      strip: true,
      perchLens: true,
      roverFrame: true,
      ghosts: 0,
      reaction: 0.2,
      shortest: 10,
      wallOf: "all",
      wallColumns: 0,
      versionsStay: false,
      versionRows: false,
      boards: "beside",
      boardStrength: 0.5,
      movie: "beside",
      movieStrength: 0.5,
      sound: true,
      planCut: 1.2,
    }),
    {
      name: "heron-wishes",
    },
  ),
);
