import type { Camera, Command, Does, Layer, LayerKind, Pointed, Spot } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, notice, type Picking, useView } from "../store/view";
import { meantCamera } from "./cameras";
import { focusOn } from "./glass";
import { setKeyOn } from "./keys";
import { made } from "./made";

const stage = () => useMoment.getState().stage;

/** Frames over which an aim that is put on a placement comes to it. */
const BLEND = 12;

/** Seconds of a turn, until its keys are moved: common practice is 3 to 4. */
const TURN_S = 4;

const complainOf = async (done: ReturnType<typeof send>): Promise<void> => {
  complain(await done);
};

/** Layers that go by something which is pointed at. */
export const POINTED: { pick: Picking; does: string; line: string }[] = [
  { pick: "aim", does: "Watch…", line: "Click whom to watch" },
  { pick: "trail", does: "Follow…", line: "Click whom to follow" },
  { pick: "carrier", does: "Ride on…", line: "Click what to ride on" },
  { pick: "arm", does: "Swing round…", line: "Click what to swing round" },
  { pick: "turntable", does: "Turntable…", line: "Click what to go once round in 4 s" },
  { pick: "size", does: "Hold the size of…", line: "Click whose size to hold" },
];

/** Take up the tool that says whom a new layer goes by. */
export function pickFor(what: Picking): void {
  if (!(cameraSeen() ?? meantCamera()))
    notice("No camera is chosen.", "Look through one, or select one first.");
  else useView.setState((s) => ({ picking: s.picking === what ? null : what, tool: "select" }));
}

/** Put a layer on the camera that is meant; the core reads off where it is now. */
export async function addLayer(camera: string, layer: Does<"rig.add">["layer"]): Promise<void> {
  complain(await send({ kind: "rig.add", camera, layer, at: stage() }));
}

type Subject = Extract<Does<"rig.add">["layer"], { kind: "trail" }>["of"];

/** What was pointed at, as something to go by. */
function spotOf(on: Pointed, whole: boolean): Subject | null {
  if (on.kind === "distance") return null;
  if (on.kind === "piece_at") return { kind: "piece", piece: on.piece };
  if (on.kind === "figure" && whole) return { ...on, joint: "root" };
  return on.kind === "figure" && on.joint === "eyes" ? { ...on, joint: "head" } : on;
}

/** What was pointed at is for the focus, or for a layer that goes by it. */
export function pointOut(on: Pointed): void {
  const { picking } = useView.getState();
  void (picking === "focus" || picking === "rack" ? focusOn(on) : goBy(on));
}

/** A new layer of the kind in hand, going by what was pointed at. */
export async function goBy(on: Pointed): Promise<void> {
  const { picking } = useView.getState();
  const camera = itemOf(useDocument.getState().scene, "cameras", cameraSeen() ?? meantCamera());
  useView.setState({ picking: null });
  const spot = spotOf(on, picking === "trail" || picking === "carrier");
  if (!camera || !picking) return;
  if (!spot) return notice("There is nothing there to go by.", "Point at a figure, a thing or the floor.");
  const id = made("lay");
  if (picking === "turntable") {
    const first = stage();
    return complainOf(
      send({ kind: "rig.turntable", id, camera: camera.id, round: spot, seconds: TURN_S, first }),
    );
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
  if (picking === "carrier") return addLayer(camera.id, { kind: "carrier", id, on: spot });
  return addLayer(camera.id, { kind: "arm", id, round: [spot] });
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
export async function rigToKeys(camera: string): Promise<void> {
  complain(await send({ kind: "rig.keys", camera }));
}

export const NAMES: Record<LayerKind, string> = {
  carrier: "Carrier",
  trail: "Trail",
  arm: "Arm",
  rail: "Rail",
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
  const spots = camera.layers.flatMap((layer): Spot[] =>
    layer.kind === "aim"
      ? layer.at
      : layer.kind === "arm"
        ? layer.round
        : layer.kind === "trail" || layer.kind === "size"
          ? [layer.of]
          : layer.kind === "carrier"
            ? [layer.on]
            : [],
  );
  return [...new Set(spots.flatMap((spot) => (spot.kind === "figure" ? [spot.figure] : [])))];
}

type Start = Does<"rig.start">["shot"];
const ALONE: [Start, string][] = [
  ["single", "Single of"],
  ["front lead", "Lead, in front of"],
  ["side track", "Track beside"],
  ["from behind", "Follow behind"],
];

/** What a shot can be started as, and of whom; figures in the order in which they matter to the camera. */
export function startsFor(figures: { id: string; name: string }[]) {
  const few = figures.slice(0, 3);
  const alone = few.flatMap((f) =>
    ALONE.map(([shot, text]) => ({ shot, figures: [f.id], label: `${text} ${f.name}` })),
  );
  const pairs = few.flatMap((a) =>
    few.filter((b) => b.id !== a.id).map((b) => ({ a, b, label: `Over ${a.name} to ${b.name}` })),
  );
  return [
    ...alone,
    ...pairs.map(({ a, b, label }) => ({ shot: "over the shoulder" as const, figures: [a.id, b.id], label })),
    ...(few.length > 1
      ? [
          {
            shot: "two-shot" as const,
            figures: [few[0].id, few[1].id],
            label: `Two-shot of ${few[0].name} and ${few[1].name}`,
          },
        ]
      : []),
  ];
}

export async function startRig(camera: string, shot: Start, figures: string[]): Promise<void> {
  complain(await send({ kind: "rig.start", camera, shot, figures, frame: stage() }));
}
