import { useEffect, useRef } from "react";

type Pose = (frame: number) => void;
const all = new Set<Pose>();
let standing = Number.NaN;

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

/** Stand everything as it is at a frame of the stage. Whether anything had to be moved for it. */
export function poseStage(frame: number, again: boolean): boolean {
  if (!again && frame === standing) return false;
  standing = frame;
  for (const pose of all) pose(frame);
  return true;
}
