import type { Command, PieceKind } from "../api/types";
import { itemOf, send, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { complain, notice, select, type Tool, useView } from "../store/view";
import { headingOf, type Point, useSpace } from "./space";

const made = (prefix: string) => `${prefix}-${crypto.randomUUID().slice(0, 12).replaceAll("-", "")}`;

/** What a newly drawn piece is like before anyone says otherwise: height, thickness and colour. */
const FRESH: Record<PieceKind, { height: number; thick: number; colour: string }> = {
  box: { height: 1, thick: 0, colour: "#b8a88a" },
  post: { height: 2, thick: 0.2, colour: "#6a5f52" },
  wall: { height: 2.6, thick: 0.15, colour: "#a89b86" },
  platform: { height: 0.3, thick: 0, colour: "#a58a66" },
  ramp: { height: 0.5, thick: 0, colour: "#a58a66" },
  backdrop: { height: 4, thick: 0.1, colour: "#93a09b" },
};

const COATS: [string, string][] = [
  ["#3f6f7a", "#d9b85f"],
  ["#8a4a34", "#e0d3b8"],
  ["#5c6a3f", "#d8cfa0"],
  ["#5a4a78", "#cbb8d8"],
  ["#93682c", "#efe3c2"],
];

export interface Footprint {
  x: number;
  z: number;
  width: number;
  depth: number;
  heading: number;
}

/** The footprint a drag from one point to another draws with a tool. */
export function footprint(tool: PieceKind, a: Point, b: Point): Footprint {
  const [dx, dz] = [b[0] - a[0], b[1] - a[1]];
  if (tool === "wall" || tool === "backdrop") {
    const width = Math.max(Math.hypot(dx, dz), 0.1);
    const heading = headingOf(dx, dz) + 90;
    return {
      x: (a[0] + b[0]) / 2,
      z: (a[1] + b[1]) / 2,
      width,
      depth: FRESH[tool].thick,
      heading: ((heading + 270) % 180) - 90,
    };
  }
  if (tool === "post") {
    const across = Math.max(2 * Math.hypot(dx, dz), FRESH.post.thick);
    return { x: a[0], z: a[1], width: across, depth: across, heading: 0 };
  }
  const width = Math.max(Math.abs(dx), 0.05);
  const depth = Math.max(Math.abs(dz), 0.05);
  return { x: (a[0] + b[0]) / 2, z: (a[1] + b[1]) / 2, width, depth, heading: 0 };
}

const tidy = (n: number) => Math.round(n * 1000) / 1000;

export async function putUp(tool: PieceKind, a: Point, b: Point): Promise<void> {
  const id = made("set");
  const fresh = FRESH[tool];
  const plan = footprint(tool, a, b);
  const command: Command = {
    kind: "piece.add",
    id,
    shape: tool,
    x: tidy(plan.x),
    z: tidy(plan.z),
    width: tidy(plan.width),
    depth: tidy(plan.depth),
    heading: tidy(plan.heading),
    base: 0,
    height: fresh.height,
    colour: fresh.colour,
    group: "",
  };
  if (complain(await send(command))) select("piece", [id]);
  useView.setState({ tool: "select" });
}

export async function standFigure(at: Point): Promise<void> {
  const figures = useDocument.getState().scene?.figures ?? [];
  const id = made("fig");
  let number = figures.length + 1;
  while (figures.some((f) => f.name === `Figure ${number}`)) number += 1;
  const [coat, trim] = COATS[figures.length % COATS.length];
  const headwear = (["scarf", "cap", "bun", "none"] as const)[figures.length % 4];
  const garment = (["skirt", "coat", "plain"] as const)[figures.length % 3];
  const problem = await send({
    kind: "figure.add",
    id,
    name: `Figure ${number}`,
    stature: 1.7,
    x: tidy(at[0]),
    z: tidy(at[1]),
    heading: 0,
    idle: "stand",
    look: { coat, trim, headwear, garment, build: "middling" },
  });
  if (complain(problem)) select("figure", [id]);
  useView.setState({ tool: "select" });
}

const MOVERS = { boat: { name: "Boat", colour: "#4f6f8a" }, heron: { name: "Heron", colour: "#7d8a96" } };

/** Put a mover in the middle of what the plan shows; it is keyed or dragged from there. */
export async function putMover(shape: keyof typeof MOVERS): Promise<void> {
  const id = made("mov");
  const { cx, cz } = useSpace.getState();
  const movers = useDocument.getState().scene?.movers ?? [];
  const { name, colour } = MOVERS[shape];
  let number = 1;
  while (movers.some((m) => m.name === `${name} ${number}`)) number += 1;
  const pose = { x: tidy(cx), y: 0, z: tidy(cz), pan: 0, tilt: 0, roll: 0 };
  const add: Command = { kind: "mover.add", id, name: `${name} ${number}`, shape, colour, pose };
  if (complain(await send(add))) select("mover", [id]);
}

/** Have the selected figure walk through points, from this frame or from when it is free. */
export async function drawWalk(points: Point[]): Promise<void> {
  const { kind, ids } = useView.getState();
  useView.setState({ tool: "select" });
  const figure = kind === "figure" ? itemOf(useDocument.getState().scene, "figures", ids[0]) : undefined;
  if (!figure) return notice("Choose the figure that walks first.", "Click it, then draw its walk.");
  if (points.length === 0) return;
  complain(
    await send({
      kind: "figure.walk",
      figure: figure.id,
      points: points as never,
      first: useMoment.getState().stage,
      when_free: true,
    }),
  );
}

export const isPiece = (tool: Tool): tool is PieceKind => tool in FRESH;
