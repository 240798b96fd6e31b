import { useEffect, useRef } from "react";
import type { Scene } from "../../api/types";
import { sceneDrawn } from "../../store/dressing";

type Pose = (frame: number) => void;
const all = new Set<Pose>();
let standing: { frame: number; scene: Scene | null } = { frame: Number.NaN, scene: null };

/** Stand something as it is at a frame; called before each drawing of the stage at another one. */
export function usePosed(pose: Pose): void {
  const now = useRef(pose);
  now.current = pose;
  useEffect(() => {
    const call: Pose = (frame) => now.current(frame);
    all.add(call);
    return () => {
      all.delete(call);
    };
  }, []);
}

/** Stand everything as it is at a frame of the stage, and as the shot has it. Whether anything had to be moved for it. */
export function poseStage(frame: number, again: boolean): boolean {
  const scene = sceneDrawn();
  if (!again && frame === standing.frame && scene === standing.scene) return false;
  standing = { frame, scene };
  for (const pose of all) pose(frame);
  return true;
}
