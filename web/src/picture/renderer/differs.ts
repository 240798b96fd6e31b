import type { InstancedMesh, Scene } from "three";
import { POSE } from "../../api/types";
import { useDocument } from "../../store/document";
import { standingPieces } from "../../store/parts";
import { WHOLE } from "../../store/samples";

type Document = ReturnType<typeof useDocument.getState>;

/** Whether everything on the stage has its shape by now. */
export function complete(root: Scene, { figures, movers, pieces }: NonNullable<Document["shown"]>): boolean {
  let owned = 0;
  let copies = 0;
  root.traverse((node) => {
    if (node.userData.owner) owned += 1;
    if ((node as InstancedMesh).isInstancedMesh)
      copies += node.userData.beside ? 0 : (node as InstancedMesh).count;
  });
  return owned >= figures.length + movers.length && copies >= standingPieces(pieces).length;
}

/** Whether anything that casts a shadow may have changed; a camera casts none. */
export function stageDiffers(now: Document, was: Document): boolean {
  const [a, b] = [now.shown, was.shown];
  if (!a || !b) return true;
  if (a.pieces !== b.pieces || a.figures !== b.figures || a.movers !== b.movers) return true;
  return a.surround !== b.surround || a.frames !== b.frames;
}

/** What of a camera is seen by its samples alone, which tell of themselves. */
const BY_SAMPLES = new Set(["layers", "focus", "aperture", "exposure", "focal", ...POSE]);

/** Whether the picture may be another by what the document itself says; what only samples say is not looked at. */
export function pictureDiffers(now: Document, was: Document): boolean {
  const [a, b] = [now.shown, was.shown];
  if (a === b) return false;
  if (!a || !b || a.cameras.length !== b.cameras.length) return true;
  if (Object.entries(a).some(([name, value]) => name !== "cameras" && value !== b[name as keyof typeof b]))
    return true;
  return a.cameras.some(
    (camera, i) =>
      camera !== b.cameras[i] &&
      Object.entries(camera).some(
        ([name, value]) =>
          !BY_SAMPLES.has(name) &&
          JSON.stringify(value) !== JSON.stringify(b.cameras[i][name as keyof typeof camera]),
      ),
  );
}

type Counts = Record<string, number>;

/** Whether nothing but cameras came again. */
export function onlyCameras(now: Counts, was: Counts): boolean {
  const cameras = new Set(useDocument.getState().shown?.cameras.map((c) => c.id));
  return Object.keys(now).every(
    (thing) => now[thing] === was[thing] || WHOLE.has(thing) || cameras.has(thing),
  );
}
