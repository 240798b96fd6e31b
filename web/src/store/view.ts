import { create } from "zustand";
import type { Compared, Problem } from "../api/types";
import { shotsPlayed, useDocument } from "./document";
import { useLive } from "./live";
import { type Looks, rememberedLooks } from "./looks";
import { cutShowing, goCut, goStage, useMoment } from "./moment";
import { cutTable } from "./samples";
import { sendAll } from "./sending";

/** What the picture looks through. */
export type Through = "rover" | "cut" | { camera: string };
export type Kind = "camera" | "figure" | "piece" | "mover" | "shot" | "perch";
export type Tool =
  | "select"
  | "figure"
  | "walk"
  | "rail"
  | "course"
  | "crowd"
  | "box"
  | "post"
  | "wall"
  | "platform"
  | "ramp"
  | "backdrop"
  | "reeds";

export interface RoverPose {
  /** The place it looks at, and from where: bearing and height in degrees, distance in metres. */
  x: number;
  y: number;
  z: number;
  bearing: number;
  height: number;
  distance: number;
}

/** A frame at an end of a shot, shown while that end is trimmed. */
export interface Edge {
  shot: string;
  /** None of a slate. */
  camera: string | null;
  frame: number;
  side: "first" | "last";
}

/** What a press on something is for: the focus, a layer of a camera's rig that takes it as its subject, or a figure's look. */
export type Picking =
  | "focus"
  | "rack"
  | "aim"
  | "trail"
  | "carrier"
  | "arm"
  | "size"
  | "turntable"
  | "eyes"
  | "facing"
  | "instead"
  | "also"
  | "look"
  | "insert";

/** How a turntable that is pointed at will turn. */
export interface Table {
  seconds: number;
  direction: "left" | "right";
  turns: "camera" | "subject";
  sun: "stays" | "rides";
}

/** What a press picks, by switch. */
export interface Pickable {
  cameras: boolean;
  people: boolean;
  set: boolean;
  locked: boolean;
}

/** What can be done about a refusal, with a press. */
export interface Way {
  label: string;
  act: () => void;
}

export interface Notice {
  id: number;
  text: string;
  remedy: string;
  wrong: boolean;
  notKept: boolean;
  ways: Way[];
}

export interface View {
  /** What the picture shows while an edge is trimmed: one frame, or at a joint the outgoing and the incoming. */
  edges: Edge[] | null;
  looks: Looks;
  /** Every camera's picture in place of one, from which row on; two that are held large, the second so many frames later. */
  wall: boolean;
  wallRow: number;
  held: string[];
  heldLater: number;
  /** The next click in the picture or on the plan says what the camera is focused on, or racks to. */
  picking: Picking | null;
  /** What it is picked for: a layer that is there already, or a figure and which of its looks. */
  pickedFor: { camera: string; layer: string } | { figure: string; act: string | null } | null;
  table: Table;
  /** Focal lengths compared side by side, and what the server made of them. */
  comparing: { camera: string; frame: number; focals: number[]; found: Compared[] } | null;
  through: Through;
  kind: Kind | null;
  ids: string[];
  /** Which acts of the selected figure are selected. */
  acts: string[];
  tool: Tool;
  /** The crowd that is being drawn. */
  crowd: { figure: string; where: "along" | "over"; count: number; seed: number } | null;
  rover: RoverPose;
  joint: string | null;
  dim: boolean;
  /** The camera last selected or looked through: the small picture's, while the rover looks. */
  lastCamera: string | null;
  /** From where the plan is seen: from above, or as an elevation. */
  seenFrom: "above" | "front" | "side";
  /** What a press can pick; what is switched off is looked past. */
  pickable: Pickable;
  /** Where a right press was, and on what: its menu is open. */
  under: { x: number; y: number; kind: Kind | null; id: string | null } | null;
  /** No marks in the picture: nothing but what the lens sees. */
  bare: boolean;
  /** What stands at the right in place of the card. */
  side:
    | null
    | "history"
    | "jobs"
    | "shots"
    | "lines"
    | "coverage"
    | "assembly"
    | "lookouts"
    | "library"
    | "conform"
    | "notes"
    | "move";
  /** The picture has the whole window. */
  whole: boolean;
  notices: Notice[];
  asking:
    | null
    | { what: "delete"; ids: string[]; sentence: string }
    | { what: "keys" }
    | { what: "bring" }
    | { what: "handover" }
    | { what: "find"; typed?: string }
    | { what: "kit" }
    | { what: "still" }
    | { what: "render"; shots?: string[]; camera?: string }
    | { what: "takes"; take?: number; scene?: number };
}

export const useView = create<View>(() => ({
  looks: rememberedLooks(),
  wall: false,
  wallRow: 0,
  held: [],
  heldLater: 0,
  edges: null,
  picking: null,
  pickedFor: null,
  table: { seconds: 4, direction: "left", turns: "camera", sun: "stays" },
  comparing: null,
  through: "rover",
  kind: null,
  ids: [],
  acts: [],
  tool: "select",
  crowd: null,
  rover: { x: 0, y: 1.2, z: 0, bearing: 35, height: 14, distance: 16 },
  joint: null,
  dim: false,
  lastCamera: null,
  whole: false,
  bare: false,
  under: null,
  side: null,
  pickable: { cameras: true, people: true, set: true, locked: true },
  seenFrom: "above",
  notices: [],
  asking: null,
}));

/** Which switch a kind of thing goes by; movers go with the people. */
const SWITCH: Record<Kind, Exclude<keyof Pickable, "locked"> | null> = {
  camera: "cameras",
  perch: "cameras",
  figure: "people",
  mover: "people",
  piece: "set",
  shot: null,
};

/** Whether a press can pick a kind of thing, or one of them that is locked. */
export function canPick(kind: Kind, pickable = useView.getState().pickable, locked = false): boolean {
  const by = SWITCH[kind];
  return (by === null || pickable[by]) && (!locked || pickable.locked);
}

/** Panels that go on with what is chosen next, if it is of their kind. */
const GOES_ON: Partial<Record<NonNullable<View["side"]>, Kind>> = {
  move: "camera",
  shots: "shot",
  lines: "figure",
};

/** Choose things; their card takes the place of a panel that is of something else. */
export function select(kind: Kind | null, ids: string[] = []): void {
  if (kind === "shot" && useDocument.getState().overlay?.cut) {
    // A shot that is only proposed is not there to be changed: it is looked at.
    const placed = cutTable()?.shots.find((one) => one.id === ids[0]);
    useView.setState({ through: "cut" });
    if (placed) goCut(placed.cut_first);
    return;
  }
  useView.setState((s) => ({
    side: ids.length && s.side && GOES_ON[s.side] !== kind ? null : s.side,
    kind: ids.length ? kind : null,
    ids,
    acts: ids[0] === s.ids[0] ? s.acts : [],
    lastCamera: kind === "camera" && ids.length ? ids[0] : s.lastCamera,
    joint: ids[0] === s.ids[0] ? s.joint : null,
  }));
}

/** Add to the selection or take from it; things of one kind go together. */
export function selectAlso(kind: Kind, id: string): void {
  const { kind: was, ids } = useView.getState();
  if (was !== kind) select(kind, [id]);
  else select(kind, ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);
}

export function setLooks(change: Partial<Looks>): void {
  const looks = { ...useView.getState().looks, ...change };
  localStorage.setItem("heron-looks", JSON.stringify(looks));
  useView.setState({ looks });
}

export function lookThrough(through: Through): void {
  useView.setState({ through, picking: null, comparing: null });
  if (through === "cut") goCut(useMoment.getState().cut);
  else if (useMoment.getState().clock === "cut") goStage(useMoment.getState().stage);
  if (typeof through === "object") select("camera", [through.camera]);
}

/** Go to a stage frame by hand; out of the cut, on to the camera that was seen there. */
export function scrubStage(frame: number): void {
  const { through } = useView.getState();
  if (through === "cut") {
    const seen = cameraSeen();
    useView.setState({ through: seen ? { camera: seen } : "rover" });
  }
  goStage(frame);
}

/** Go to a stage frame that was typed: while the cut is watched it stays in the cut, where a shot shows that frame. */
export function typeStage(frame: number): void {
  const at = useView.getState().through === "cut" ? cutShowing(frame) : null;
  if (at === null) scrubStage(frame);
  else goCut(at);
}

/** Go to a cut frame by hand, and watch the cut. */
export function scrubCut(frame: number): void {
  useView.setState({ through: "cut" });
  goCut(frame);
}

/** Show something at the right in place of the card, or the card again. */
/** Open a panel at the right, or close it; `open` only opens it. */
export const toggleSide = (side: NonNullable<View["side"]>, open = false) =>
  useView.setState((s) => ({ side: s.side === side && !open ? null : side }));

let number = 0;

/** Milliseconds that something is said for: time to see it, and to read it at 15 letters a second. */
const readingTime = (text: string) => 2500 + (text.length * 1000) / 15;

/** Say something for as long as reading it takes; what is not kept is said until it is put away. */
export function notice(text: string, remedy = "", wrong = true, notKept = false, ways: Way[] = []): void {
  const id = ++number;
  useView.setState((s) => ({
    notices: [...s.notices.filter((n) => n.text !== text), { id, text, remedy, wrong, notKept, ways }].slice(
      -2,
    ),
  }));
  // What offers a way out stays until it is taken or closed.
  if (!notKept && ways.length === 0) setTimeout(() => putAway(id), readingTime(text + remedy));
}

export function complain(problem: Problem | null): boolean {
  if (problem) {
    const ways = (problem.alternatives ?? []).map(({ label, commands }) => ({
      label,
      act: () => void sendAll(commands).then(complain),
    }));
    notice(problem.title, problem.remedy, true, problem.not_kept, ways);
  }
  return problem === null;
}

export const putAway = (id: number) =>
  useView.setState((s) => ({ notices: s.notices.filter((n) => n.id !== id) }));

/** The camera the picture looks through at this moment, or null. */
export function cameraSeen(): string | null {
  const { through } = useView.getState();
  if (typeof through === "object") return through.camera;
  if (through === "rover") return null;
  // What a hand cuts to live is on air at once.
  const live = useLive.getState().camera;
  if (live) return live;
  const { shot, gap } = useMoment.getState();
  return gap || shot < 0 ? null : (shotsPlayed(useDocument.getState())[shot]?.camera ?? null);
}

/** The camera in the small picture while the rover looks: the one last chosen, else the first. */
export function insetCamera(): string | null {
  const cameras = useDocument.getState().scene?.cameras ?? [];
  const { lastCamera } = useView.getState();
  return (cameras.find((c) => c.id === lastCamera) ?? cameras[0])?.id ?? null;
}

/** The big picture and the small one change places. */
export function swapPictures(): void {
  const { through } = useView.getState();
  const camera = insetCamera();
  if (through !== "rover") lookThrough("rover");
  else if (camera) lookThrough({ camera });
}

/** Drop from the selection what has gone. */
export function prune(): void {
  const scene = useDocument.getState().scene;
  if (!scene) return;
  const there = new Set(
    [
      ...scene.cameras,
      ...scene.figures,
      ...scene.pieces,
      ...scene.movers,
      ...scene.perches,
      ...scene.shots,
    ].map((i) => i.id),
  );
  const { ids, kind, side, through } = useView.getState();
  const kept = ids.filter((id) => there.has(id));
  // Nobody chose anything: what stands at the side stays.
  if (kept.length !== ids.length) {
    select(kind, kept);
    useView.setState({ side });
  }
  if (typeof through === "object" && !there.has(through.camera)) useView.setState({ through: "rover" });
  if (through === "cut" && scene.shots.length === 0) useView.setState({ through: "rover" });
}
