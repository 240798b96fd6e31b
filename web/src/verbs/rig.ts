import { catalogue } from "../api/catalogue";
import type { Camera, Command, Does, Layer, Pointed, Spot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { loopRange, useMoment } from "../store/moment";
import { useProposed } from "../store/proposed";
import { endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, notice, type Picking, useView } from "../store/view";
import { meantCamera } from "./cameras";
import { focusOn } from "./glass";
import { newId } from "./new-id";

const stage = () => useMoment.getState().stage;

const complainOf = async (done: ReturnType<typeof send>): Promise<void> => {
  complain(await done);
};

/** Layers whose subject is pointed at. */
export const POINTED: { pick: Picking; does: string; line: string }[] = [
  { pick: "aim", does: "Watch…", line: "Click whom to watch" },
  { pick: "trail", does: "Follow…", line: "Click whom to follow" },
  { pick: "carrier", does: "Ride on…", line: "Click what to ride on" },
  { pick: "arm", does: "Swing round…", line: "Click what to swing round" },
  { pick: "size", does: "Hold the size of…", line: "Click whose size to hold" },
  { pick: "eyes", does: "See through the eyes of…", line: "Click through whose eyes to see" },
  { pick: "facing", does: "Face, fixed to the body of…", line: "Click whom to face" },
];

/** What the next press is for, where a menu does not say it. */
const LINES: Partial<Record<Picking, string>> = {
  turntable: "Click what to go once round",
  instead: "Click the new subject",
  also: "Click another subject",
  look: "Click what to look at",
  insert: "Click what an insert is to show",
};

export const lineOf = (pick: Picking): string =>
  LINES[pick] ?? POINTED.find((one) => one.pick === pick)?.line ?? "";

/** Take up the tool that says the subject of a new layer. */
export function pickFor(what: Picking): void {
  if (!(cameraSeen() ?? meantCamera()))
    notice("No camera is chosen.", "Look through one, or select one first.");
  else
    useView.setState((s) => ({ picking: s.picking === what ? null : what, pickedFor: null, tool: "select" }));
}

/** Take up the tool that says by what a layer that is there goes: instead of what it has, or as well. */
export function pickSubject(camera: string, layer: string, pick: "instead" | "also"): void {
  useView.setState({ picking: pick, pickedFor: { camera, layer }, tool: "select" });
}

/** Take up the tool that says what a figure looks at: again, or what an act of it goes by. */
export function pickLook(figure: string, act: string | null = null): void {
  useView.setState({ picking: "look", pickedFor: { figure, act }, tool: "select" });
}

/** Put a layer on a camera; the core reads off where it is now. */
export async function addLayer(camera: string, layer: Does<"rig.add">["layer"]): Promise<void> {
  complain(await send({ kind: "rig.add", camera, layer, at: stage() }));
}

const tidy = (n: number) => Math.round(n * 1000) / 1000;

/** What was pointed at is what the tool in hand is for: the focus, a look, a layer's subject, or a new layer. */
export async function pointOut(
  on: Pointed,
  place: { x: number; y: number; z: number } | null = null,
): Promise<void> {
  const { picking, pickedFor } = useView.getState();
  if (picking === "focus" || picking === "rack") return focusOn(on);
  useView.setState({ picking: null, pickedFor: null });
  if (picking === "insert") return useProposed.setState({ insert: on });
  if (pickedFor && "figure" in pickedFor)
    complain(await send({ kind: "figure.look", ...pickedFor, on, frame: stage(), id: newId("act") }));
  else if (pickedFor)
    complain(await send({ kind: "rig.subject", ...pickedFor, on, also: picking === "also" }));
  else await goBy(on, picking, place);
}

/** A new layer of the kind in hand, going by what was pointed at. */
export async function goBy(on: Pointed, how: Picking | null, place: Place | null = null): Promise<void> {
  const camera = cameraSeen() ?? meantCamera();
  if (!camera || !how) return;
  const id = newId("lay");
  if (how === "turntable") return turntable(camera, id, on);
  const mount: [number, number, number] | undefined = place
    ? [tidy(place.x), tidy(place.y), tidy(place.z)]
    : undefined;
  complain(await send({ kind: "rig.point", id, camera, how: how as How, on, frame: stage(), mount }));
}

type How = Does<"rig.point">["how"];
type Place = { x: number; y: number; z: number };

/** The subjects of a layer, in their order. */
export function spotsOf(layer: Layer): Spot[] {
  const { subject } = catalogue.layers[layer.kind];
  if (!subject) return [];
  const value = (layer as unknown as Record<string, Spot | Spot[]>)[subject];
  return Array.isArray(value) ? value : [value];
}

export const takesSeveral = (layer: Layer): boolean => catalogue.layers[layer.kind].several;

/** The subjects of a layer that takes several, from now on. */
export const setSpots = async (camera: string, layer: Layer, spots: Spot[]): Promise<boolean> =>
  complain(await setFields(camera, layer.id, { [catalogue.layers[layer.kind].subject ?? ""]: spots }));

/** A camera rides on somebody: through their eyes, or facing them. */
export const ride = (camera: string, figure: string, how: "eyes" | "facing") =>
  complainOf(send({ kind: "rig.ride", id: newId("lay"), camera, figure, how, frame: stage() }));

/** Once round what was pointed at; then it is played in a loop that shows no frame twice. */
async function turntable(camera: string, id: string, round: Pointed): Promise<void> {
  const { table } = useView.getState();
  const first = stage();
  if (!complain(await send({ kind: "rig.turntable", id, camera, round, first, ...table }))) return;
  const turn = turnFrom(camera, id, round, first);
  if (turn) loopRange(turn);
}

/** The frames of a turn that was just made: a layer's, a figure's act's, or between a mover's keys. */
function turnFrom(camera: string, id: string, round: Pointed, first: number) {
  const { scene } = useDocument.getState();
  const layer = itemOf(scene, "cameras", camera)?.layers.find((l) => l.id === id);
  if (layer?.first != null && layer.last != null) return { first: layer.first, last: layer.last };
  const figure = round.kind === "figure" ? itemOf(scene, "figures", round.figure) : undefined;
  const mover = round.kind === "mover" ? itemOf(scene, "movers", round.mover) : undefined;
  const end = mover?.pan.keys.at(-1)?.frame;
  return (
    figure?.acts.find((act) => act.frames.first === first)?.frames ?? (end ? { first, last: end - 1 } : null)
  );
}

/** Have a camera run along a rail drawn on the plan. */
export async function drawRail(points: [number, number][]): Promise<void> {
  const camera = cameraSeen() ?? meantCamera();
  useView.setState({ tool: "select" });
  if (!camera) return notice("No camera is chosen.", "Look through one, or select one first.");
  if (points.length === 0) return;
  complain(await send({ kind: "rig.rail", id: newId("lay"), camera, points, at: stage() }));
}

/** A layer's number: on a key here where it is keyed, else at rest. */
export const numberCommand = (camera: Camera, layer: Layer, name: string, value: number): Command => ({
  kind: "rig.set",
  camera: camera.id,
  layer: layer.id,
  numbers: { [name]: value },
  frame: stage(),
});

export const setFields = (camera: string, layer: string, fields: Record<string, unknown>, at?: number) =>
  send({ kind: "rig.set", camera, layer, fields }, at);

export const channelOf = (layer: Layer, name: string) =>
  (layer as unknown as Record<string, Camera["x"] | undefined>)[name];

/** Have the subject sit elsewhere in the frame: shown while it is dragged, kept where it is let go. */
export const placeCommand = (camera: Camera, aim: Layer, x: number, y: number): Command => ({
  kind: "rig.set",
  camera: camera.id,
  layer: aim.id,
  numbers: { x, y },
  frame: stage(),
});

export const tryPlacement = (camera: Camera, aim: Layer, x: number, y: number) =>
  tryOut(placeCommand(camera, aim, x, y), stage());

/** Whether it was kept. */
export async function keepPlacement(camera: Camera, aim: Layer, x: number, y: number): Promise<boolean> {
  endTry();
  return complain(await send(placeCommand(camera, aim, x, y)));
}

/** Turn a rig into keys, to finish by hand; undo gives it back. */
export async function rigToKeys(
  camera: string,
  range?: { first: number; last: number } | null,
): Promise<void> {
  complain(await send({ kind: "rig.keys", camera, ...range }));
}

/** The same rig on another camera. */
export async function giveRig(from: string, to: string): Promise<void> {
  complain(await send({ kind: "rig.copy", camera: from, to }));
}

/** The same rig by another figure in place of one. */
export async function swapSubject(camera: string, was: string, now: string): Promise<void> {
  complain(await send({ kind: "rig.copy", camera, to: camera, instead: { [was]: now } }));
}

/** Figures that are subjects of a rig. */
export function subjectsOf(camera: Camera): string[] {
  const spots = camera.layers.flatMap(spotsOf);
  return [...new Set(spots.flatMap((spot) => (spot.kind === "figure" ? [spot.figure] : [])))];
}

/** A shot to begin from: what it is called, and putting a camera's rig so. */
export interface StartChoice {
  label: string;
  start: (camera: string) => Promise<void>;
}

/** What a shot can be started as, and of whom; figures in the order in which they matter to the camera. */
export function startsFor(figures: { id: string; name: string }[]): StartChoice[] {
  const few = figures.slice(0, 3);
  /** Of one, of both as a pair, or over one to the other: by how many names the label has places for. */
  const of = (people: typeof few, places: number) =>
    catalogue.starts
      .filter((one) => one.figures.includes(people.length) && one.label.split("{}").length === places + 1)
      .map(({ shot, label, size }): StartChoice => {
        const names = people.map((f) => f.name);
        const said = places > 1 ? names : [names.join(" and ")];
        const text = said.reduce((left, name) => left.replace("{}", name), label);
        const start = async (camera: string) => {
          const ids = people.map((f) => f.id);
          complain(await send({ kind: "rig.start", camera, shot, figures: ids, frame: stage() }));
        };
        return { label: `${text}, ${size}`, start };
      });
  const alone = few.flatMap((f) => [
    ...of([f], 1),
    { label: `Through ${f.name}'s eyes`, start: (camera: string) => ride(camera, f.id, "eyes") },
    { label: `Facing ${f.name}, fixed to the body`, start: (camera: string) => ride(camera, f.id, "facing") },
  ]);
  const pairs = few.flatMap((a) => few.filter((b) => b !== a).flatMap((b) => of([a, b], 2)));
  return [...alone, ...pairs, ...(few.length > 1 ? of(few.slice(0, 2), 1) : [])];
}
