import type { Camera, Command, Does, Layer, LayerKind, Pointed, Spot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { loopRange, useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, notice, type Picking, useView } from "../store/view";
import { meantCamera } from "./cameras";
import { focusOn } from "./glass";
import { setKeyOn } from "./keys";
import { newId } from "./new-id";

const stage = () => useMoment.getState().stage;

/** Frames over which an aim that is put on a placement comes to it. */
const BLEND = 12;

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
};

export const lineOf = (pick: Picking): string =>
  LINES[pick] ?? POINTED.find((one) => one.pick === pick)?.line ?? "";

/** Take up the tool that says whom a new layer goes by. */
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

/** Take up the tool that says what a figure looks at: again, or by a look that it has. */
export function pickLook(figure: string, gaze: string | null = null): void {
  useView.setState({ picking: "look", pickedFor: { figure, gaze }, tool: "select" });
}

/** Put a layer on the camera that is meant; the core reads off where it is now. */
export async function addLayer(
  camera: string,
  layer: Does<"rig.add">["layer"],
  place: { x: number; y: number; z: number } | null = null,
): Promise<void> {
  const tidy = (n: number) => Math.round(n * 1000) / 1000;
  const mount: [number, number, number] | null = place && [tidy(place.x), tidy(place.y), tidy(place.z)];
  complain(await send({ kind: "rig.add", camera, layer, at: stage(), ...(mount && { mount }) }));
}

type Subject = Extract<Does<"rig.add">["layer"], { kind: "trail" }>["of"];

/** What was pointed at, as something to go by. */
function spotOf(on: Pointed, whole: boolean): Subject | null {
  if (on.kind === "distance" || on.kind === "pulled") return null;
  if (on.kind === "piece_at") return { kind: "piece", piece: on.piece };
  if (on.kind === "figure" && whole) return { ...on, joint: "root" };
  return on.kind === "figure" && on.joint === "eyes" ? { ...on, joint: "head" } : on;
}

/** What was pointed at is for the focus, or for a layer of which it is the subject. */
export function pointOut(on: Pointed, place: { x: number; y: number; z: number } | null = null): void {
  const { picking, pickedFor } = useView.getState();
  if (picking === "focus" || picking === "rack") void focusOn(on);
  else if (pickedFor && "figure" in pickedFor) void lookAt(on, pickedFor.figure, pickedFor.gaze);
  else if (pickedFor) void rename(on, pickedFor.camera, pickedFor.layer, picking === "also");
  else void goBy(on, place);
}

/** What fields name what a layer goes by, and whether there may be several. */
const NAMED: Partial<Record<LayerKind, ["at" | "round" | "on" | "of", boolean]>> = {
  aim: ["at", true],
  arm: ["round", true],
  carrier: ["on", false],
  trail: ["of", false],
  size: ["of", false],
};

/** What a layer goes by, in its order. */
export function spotsOf(layer: Layer): Spot[] {
  const named = NAMED[layer.kind];
  if (!named) return [];
  const value = (layer as unknown as Record<string, Spot | Spot[]>)[named[0]];
  return Array.isArray(value) ? value : [value];
}

export const takesSeveral = (layer: Layer): boolean => NAMED[layer.kind]?.[1] ?? false;

/** A layer's subjects from now on. */
export async function setSpots(camera: string, layer: Layer, spots: Spot[]): Promise<void> {
  const named = NAMED[layer.kind];
  if (named) complain(await setFields(camera, layer.id, { [named[0]]: named[1] ? spots : spots[0] }));
}

async function rename(on: Pointed, camera: string, id: string, also: boolean): Promise<void> {
  useView.setState({ picking: null, pickedFor: null });
  const layer = itemOf(useDocument.getState().scene, "cameras", camera)?.layers.find((l) => l.id === id);
  const spot = layer && spotOf(on, layer.kind === "trail" || layer.kind === "carrier");
  if (!layer) return;
  if (!spot) return notice("There is nothing there to follow.", "Point at a figure, a thing or the floor.");
  if (layer.kind === "size" && spot.kind !== "figure")
    return notice("Only a figure has a size to hold.", "Point at one.");
  const whole = layer.kind === "size" ? { ...spot, joint: layer.of.joint } : spot;
  await setSpots(camera, layer, [...(also ? spotsOf(layer) : []), whole as Spot]);
}

/** Frames that a look takes before anyone says otherwise. */
const LOOKS_FOR = 47;

async function lookAt(on: Pointed, figure: string, id: string | null): Promise<void> {
  useView.setState({ picking: null, pickedFor: null });
  const spot = spotOf(on, false);
  const { scene } = useDocument.getState();
  if (!spot || !scene) return notice("There is nothing there to look at.", "Point at a figure or a thing.");
  // Whom somebody looks at, they look in the eyes.
  const at = spot.kind === "figure" && spot.joint === "head" ? { ...spot, joint: "eyes" } : spot;
  const was = itemOf(scene, "figures", figure)?.gazes.find((one) => one.id === id);
  const first = stage();
  const frames = { first, last: Math.min(first + LOOKS_FOR, scene.frames.last) };
  const gaze = was ? { ...was, at } : { id: newId("gaz"), at, frames };
  complain(await send({ kind: "figure.gaze", figure, gaze }));
}

/** A new layer of the kind in hand, going by what was pointed at. */
export async function goBy(
  on: Pointed,
  place: { x: number; y: number; z: number } | null = null,
): Promise<void> {
  const { picking } = useView.getState();
  const camera = itemOf(useDocument.getState().scene, "cameras", cameraSeen() ?? meantCamera());
  useView.setState({ picking: null });
  const spot = spotOf(on, picking === "trail" || picking === "carrier");
  if (!camera || !picking) return;
  if (!spot) return notice("There is nothing there to follow.", "Point at a figure, a thing or the floor.");
  const id = newId("lay");
  if (picking === "turntable") return turntable(camera.id, id, spot);
  if (picking === "eyes" || picking === "facing") {
    if (spot.kind !== "figure") return notice("Only a figure can be ridden on so.", "Point at one.");
    return ride(camera.id, spot.figure, picking);
  }
  const watches = camera.layers.some((layer) => layer.kind === "aim");
  if (picking === "size") {
    if (spot.kind !== "figure") return notice("Only a figure has a size to hold.", "Point at one.");
    return addLayer(camera.id, { kind: "size", id, of: { ...spot, joint: "chin" } });
  }
  if (picking === "aim") {
    const { frames } = useDocument.getState().scene ?? { frames: { first: 0 } };
    // From the playhead on, coming to it over some frames; from the first frame on it is there at once.
    const from = stage() > frames.first && watches ? { first: stage(), blend_in: BLEND } : {};
    return addLayer(camera.id, { kind: "aim", id, at: [spot], ...from });
  }
  if (picking === "trail") return addLayer(camera.id, { kind: "trail", id, of: spot });
  if (picking === "carrier") return addLayer(camera.id, { kind: "carrier", id, on: spot }, place);
  return addLayer(camera.id, { kind: "arm", id, round: [spot] });
}

/** A camera rides on somebody: through their eyes, or facing them. */
export const ride = (camera: string, figure: string, how: "eyes" | "facing") =>
  complainOf(send({ kind: "rig.ride", id: newId("lay"), camera, figure, how, frame: stage() }));

/** Once round what was pointed at; then it is played in a loop that shows no frame twice. */
async function turntable(camera: string, id: string, round: Subject): Promise<void> {
  const { table } = useView.getState();
  const first = stage();
  const whole = round.kind === "figure" ? { ...round, joint: "root" } : round;
  if (!complain(await send({ kind: "rig.turntable", id, camera, round: whole, first, ...table }))) return;
  const turn = turnFrom(camera, id, round, first);
  if (turn) loopRange(turn);
}

/** The frames of a turn that was just made: a layer's, a figure's act's, or between a mover's keys. */
function turnFrom(camera: string, id: string, round: Subject, first: number) {
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

/** A layer's number: on its key here, else at rest. */
export function numberCommand(camera: Camera, layer: Layer, name: string, value: number): Command {
  const channel = channelOf(layer, name);
  if (channel?.keys.length) return setKeyOn(camera.id, `${layer.id}.${name}`, stage(), value);
  return { kind: "rig.set", camera: camera.id, layer: layer.id, numbers: { [name]: value } };
}

export const setFields = (camera: string, layer: string, fields: Record<string, unknown>, at?: number) =>
  send({ kind: "rig.set", camera, layer, fields }, at);

export const channelOf = (layer: Layer, name: string) =>
  (layer as unknown as Record<string, Camera["x"] | undefined>)[name];

/** Have the subject sit elsewhere in the frame: shown while it is dragged, kept where it is let go. */
export const placeCommand = (camera: Camera, aim: Layer, x: number, y: number): Command => {
  const keyed = ["x", "y"].some((name) => channelOf(aim, name)?.keys.length);
  if (!keyed) return { kind: "rig.set", camera: camera.id, layer: aim.id, numbers: { x, y } };
  const keys = Object.entries({ x, y }).map(([name, value]) => ({
    thing: camera.id,
    channel: `${aim.id}.${name}`,
    frame: stage(),
    value,
  }));
  return { kind: "keys.set", keys };
};

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

export const NAMES: Record<LayerKind, string> = {
  carrier: "Carrier",
  trail: "Trail",
  arm: "Arm",
  rail: "Rail",
  flight: "Flight",
  level: "Level",
  aim: "Aim",
  size: "Size hold",
  breath: "Breath",
};

/** The same rig on another camera. */
export async function giveRig(from: string, to: string): Promise<void> {
  complain(await send({ kind: "rig.copy", camera: from, to }));
}

/** The same rig by another figure in place of one. */
export async function swapSubject(camera: string, was: string, now: string): Promise<void> {
  complain(await send({ kind: "rig.copy", camera, to: camera, instead: { [was]: now } }));
}

/** Figures that a rig goes by. */
export function subjectsOf(camera: Camera): string[] {
  const spots = camera.layers.flatMap(spotsOf);
  return [...new Set(spots.flatMap((spot) => (spot.kind === "figure" ? [spot.figure] : [])))];
}

type Start = Does<"rig.start">["shot"];
const ALONE: [Start, string][] = [
  ["single", "Single of"],
  ["front lead", "Lead, in front of"],
  ["side track", "Track beside"],
  ["from behind", "Follow behind"],
  ["rise and reveal", "Rise and reveal beyond"],
  ["orbit", "Orbit"],
];

/** A shot to begin from: what it is called, and putting a camera's rig so. */
export interface StartChoice {
  label: string;
  start: (camera: string) => Promise<void>;
}

/** What a shot can be started as, and of whom; figures in the order in which they matter to the camera. */
export function startsFor(
  figures: { id: string; name: string }[],
  sizes: Partial<Record<string, string>>,
): StartChoice[] {
  const few = figures.slice(0, 3);
  const sized = (text: string, shot: Start) => `${text}, ${sizes[shot] ?? ""}`.replace(/, $/, "");
  const start = (shot: Start, ids: string[]) => async (camera: string) => {
    complain(await send({ kind: "rig.start", camera, shot, figures: ids, frame: stage() }));
  };
  const alone = few.flatMap((f): StartChoice[] => [
    ...ALONE.map(([shot, text]) => ({
      label: sized(`${text} ${f.name}`, shot),
      start: start(shot, [f.id]),
    })),
    { label: `Through ${f.name}'s eyes`, start: (camera) => ride(camera, f.id, "eyes") },
    { label: `Facing ${f.name}, fixed to the body`, start: (camera) => ride(camera, f.id, "facing") },
  ]);
  const pairs = few.flatMap((a) =>
    few
      .filter((b) => b.id !== a.id)
      .map((b) => ({
        label: sized(`Over ${a.name} to ${b.name}`, "over the shoulder"),
        start: start("over the shoulder", [a.id, b.id]),
      })),
  );
  const two = few.length > 1 ? few.slice(0, 2) : [];
  const ids = two.map((f) => f.id);
  const names = two.map((f) => f.name).join(" and ");
  const both = two.length
    ? [
        { label: sized(`Two-shot of ${names}`, "two-shot"), start: start("two-shot", ids) },
        { label: sized(`Orbit ${names}`, "orbit"), start: start("orbit", ids) },
      ]
    : [];
  return [...alone, ...pairs, ...both];
}
