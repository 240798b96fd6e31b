import { create } from "zustand";
import { catalogue } from "../api/catalogue";
import type { Act, Does, Figure } from "../api/types";

export type Part = Does<"figure.pose.move">["part"];
export const PARTS = Object.entries(catalogue.pose_parts) as [Part, string][];
type Pose = Extract<Act, { kind: "pose" }>;

interface Handles {
  /** Who is posed. */
  figure: string | null;
  /** Where the parts are that are dragged, metres on the stage. */
  places: Partial<Record<Part, [number, number, number]>>;
}

/** Handles of the pose in hand, as the picture last drew them. */
export const useHandles = create<Handles>(() => ({ figure: null, places: {} }));

/** The pose of a figure that is dragged at a frame: the selected one, else the one under way. */
export const poseInHand = (figure: Figure, stage: number, chosen: string[]): Pose | undefined => {
  const there = figure.acts.filter(
    (act): act is Pose => act.kind === "pose" && act.frames.first <= stage && stage <= act.frames.last,
  );
  return there.find((act) => act.id && chosen.includes(act.id)) ?? there.at(-1);
};
