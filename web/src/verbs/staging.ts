import { catalogue } from "../api/catalogue";
import type { Does, PieceKind } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { type Point, useSpace } from "../store/space";
import { complain, notice, select, type Tool, useView } from "../store/view";
import { newId } from "./new-id";

export const isPiece = (tool: Tool): tool is PieceKind => (catalogue.piece_kinds as Tool[]).includes(tool);

/** A piece being drawn: shown as it will stand while the hand goes, put up where it lets go. */
export function drawing(shape: PieceKind, start: Point) {
  const id = newId("set");
  const command = (end: Point): Does<"piece.draw"> => ({ kind: "piece.draw", id, shape, start, end });
  return {
    id,
    move: (end: Point) => tryOut(command(end), useMoment.getState().stage),
    drop: async (end: Point) => {
      endTry();
      if (complain(await send(command(end)))) select("piece", [id]);
      else dropOverlay();
      useView.setState({ tool: "select" });
    },
  };
}

export async function standFigure(at: Point): Promise<void> {
  const id = newId("fig");
  if (complain(await send({ kind: "figure.add", id, x: at[0], z: at[1] }))) select("figure", [id]);
  useView.setState({ tool: "select" });
}

const tidy = (n: number) => Math.round(n * 1000) / 1000;

/** Put a mover in the middle of what the plan shows; it is keyed or dragged from there. */
export async function putMover(shape: Does<"mover.add">["shape"]): Promise<void> {
  const id = newId("mov");
  const { cx, cz } = useSpace.getState();
  const pose = { x: tidy(cx), y: 0, z: tidy(cz), pan: 0, tilt: 0, roll: 0 };
  if (complain(await send({ kind: "mover.add", id, shape, pose }))) select("mover", [id]);
}

/** Have the selected mover go through points from this frame on. */
export async function drawCourse(points: Point[], freehand = false): Promise<void> {
  const { kind, ids } = useView.getState();
  useView.setState({ tool: "select" });
  if (kind !== "mover" || !ids[0]) return notice("No mover is selected.", "Click one, then draw its course.");
  if (points.length === 0) return;
  const first = useMoment.getState().stage;
  complain(await send({ kind: "mover.course", mover: ids[0], points, freehand, first }));
}

/** Put the crowd that was asked for along a line, or over an area. */
export async function drawCrowd(points: Point[]): Promise<void> {
  const { crowd } = useView.getState();
  useView.setState({ tool: "select", crowd: null });
  if (!crowd || points.length === 0) return;
  const { where, ...asked } = crowd;
  complain(await send({ kind: "figure.crowd", ...asked, [where]: points }));
}

/** Have the selected figure walk through points, from this frame or from when it is free. */
export async function drawWalk(points: Point[], freehand = false): Promise<void> {
  const { kind, ids } = useView.getState();
  useView.setState({ tool: "select" });
  const figure = kind === "figure" ? itemOf(useDocument.getState().scene, "figures", ids[0]) : undefined;
  if (!figure) return notice("Choose the figure that walks first.", "Click it, then draw its walk.");
  if (points.length === 0) return;
  const first = useMoment.getState().stage;
  complain(await send({ kind: "figure.walk", figure: figure.id, points, freehand, first, when_free: true }));
}
