import { itemOf, shotsPlayed, useDocument } from "./document";
import { useLive } from "./live";
import { useMoment } from "./moment";
import { useView } from "./view";

/** The camera that the picture looks through at this moment, as it is drawn. */
export function useSeenCamera() {
  const through = useView((s) => s.through);
  const scene = useDocument((s) => s.shown);
  const shot = useMoment((s) => s.shot);
  const gap = useMoment((s) => s.gap);
  const live = useLive((s) => s.camera);
  if (through === "rover" || !scene) return undefined;
  if (through === "cut" && live) return itemOf(scene, "cameras", live);
  if (through === "cut") return gap ? undefined : itemOf(scene, "cameras", scene.shots[shot]?.camera ?? null);
  return itemOf(scene, "cameras", through.camera);
}

/** The camera that is on air at this moment of the cut, or null. */
export function useOnAir(): string | null {
  const shots = useDocument(shotsPlayed);
  const shot = useMoment((s) => (s.gap ? -1 : s.shot));
  const live = useLive((s) => s.camera);
  return live ?? shots[shot]?.camera ?? null;
}
