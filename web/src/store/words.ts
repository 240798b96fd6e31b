import type { Camera, FocusOn, Pointed, Scene } from "../api/types";
import { samplesOf } from "./samples";

const SIDES: Record<string, string> = { r: "right ", l: "left " };

/** What is focused on, as a person would say it. */
export function focusName(scene: Scene, on: FocusOn | Pointed): string {
  if (on.kind === "distance") return on.metres ? "a set distance" : "infinity";
  if (on.kind === "pulled") return "its own curve";
  if (on.kind === "point") return on.of || "a place";
  if (on.kind === "piece" || on.kind === "piece_at")
    return scene.pieces.find((p) => p.id === on.piece)?.name ?? "";
  if (on.kind === "mover") return scene.movers.find((m) => m.id === on.mover)?.name ?? "";
  if (on.kind === "perch") return scene.perches.find((p) => p.id === on.perch)?.name ?? "";
  if (on.kind === "camera") return `camera ${scene.cameras.find((c) => c.id === on.camera)?.letter ?? ""}`;
  const [stem, side] = (on.joint ?? "root").split("_");
  if (stem === "root") return scene.figures.find((f) => f.id === on.figure)?.name ?? "";
  return `${scene.figures.find((f) => f.id === on.figure)?.name ?? ""}'s ${SIDES[side] ?? ""}${stem}`;
}

/** What the focus is on, or racking to, at a frame: the core says from when each mark counts. */
export function focusInForce(camera: Camera, frame: number): FocusOn {
  const from = (samplesOf(camera.id)?.facts.focus_from ?? []) as number[];
  return camera.focus.marks[from.findLastIndex((first) => first <= frame)]?.on ?? camera.focus.on;
}

/** A distance given by its reciprocal. */
export const metres = (perMetre: number): string =>
  perMetre < 1e-4 ? "∞" : `${(1 / perMetre).toFixed(1 / perMetre < 100 ? 2 : 0)} m`;
