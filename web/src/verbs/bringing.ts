import { ask, client, sendFile } from "../api/client";
import type { BroughtFile, Command, Piece, Problem, Reading, Schemas } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { useConform } from "../store/conform";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { roverPlace } from "../store/rover";
import { send } from "../store/sending";
import { poseOf } from "../store/unsaved";
import { cameraSeen, complain, notice, select, useView } from "../store/view";
import { bringFile } from "./lines";
import { newId } from "./new-id";
import { bringSound, isSound } from "./sounds";
import { frameSelected } from "./things";

export const MODEL_FILES = ".glb,.gltf,.usd,.usda,.usdc,.usdz,.obj,.bvh";
/** All that "Bring in…" takes: scene files with what they name, dialogue, sounds. */
export const ALL_FILES = `${MODEL_FILES},.bin,.mtl,.png,.jpg,.jpeg,.webp,.mp4,.m4v,.mov,.fountain,.vtt,.srt,.wav,.flac,.ogg,.mp3,.otio,.edl`;
const ASK_MS = 300;

const isPicture = (name: string) => /\.(png|jpe?g|webp)$/i.test(name);
const isMovie = (name: string) => /\.(mp4|m4v|mov)$/i.test(name);
const isModel = (name: string) => /\.(glb|gltf|usd|usda|usdc|usdz|obj|bvh)$/i.test(name);
const isEdit = (name: string) => /\.(otio|edl)$/i.test(name);
const isText = (name: string) => /\.(fountain|vtt|srt)$/i.test(name);

const ASKED: Incoming["asked"] = {
  unit: null,
  up: null,
  lighter: false,
  map: {},
  rigid: false,
  cameras: false,
  motion: false,
  clip: null,
};

/** Bring files in: what they are is told by what stands in them, or how they are called. */
export async function bringAll(files: File[]): Promise<void> {
  const scenes = files.some((file) => isModel(file.name));
  // Pictures alone are put up themselves; beside a scene file they are what it names.
  const models = files.filter(({ name }) => isModel(name) || isMovie(name) || (!scenes && isPicture(name)));
  const others = files.filter((file) => !models.includes(file));
  // Files that a scene file names come with it.
  const along = models.length
    ? others.filter((file) => !isSound(file) && !isText(file.name) && !isEdit(file.name))
    : [];
  for (const file of others.filter((one) => !along.includes(one))) {
    if (isSound(file)) await bringSound(file, "effects");
    else if (isEdit(file.name)) await openEdit(file);
    else if (isText(file.name)) await bringFile(file);
    else
      notice(
        `${file.name} can't be brought in here.`,
        "Drop sets, props and characters (.glb, .gltf, .usd, .obj), motion (.bvh), pictures, movies (.mp4), dialogue (.fountain, .vtt, .srt) or sounds.",
      );
  }
  if (!models.length) return;
  const incoming = models.map(
    (file): Incoming => ({
      id: newId("in"),
      name: file.name,
      sent: 0,
      source: null,
      along: {},
      reading: null,
      asked: ASKED,
      problem: null,
      put: false,
      stop: new AbortController(),
    }),
  );
  useBringing.setState((s) => ({ files: [...s.files, ...incoming], chosen: incoming[0].id }));
  useView.setState({ asking: { what: "bring" } });
  await Promise.all(incoming.map((one, i) => sendOne(one, models[i], along)));
}

/** Read a cut that came back from the edit, and show what it has otherwise. */
async function openEdit(file: File): Promise<void> {
  const { id } = useDocument.getState();
  if (id === null) return;
  const { data, problem } = await sendFile<Schemas["Came"][]>(`/api/scenes/${id}/conform`, file);
  if (!data) return void complain(problem);
  useConform.setState({ of: id, name: file.name, clips: data, leave: [] });
  useView.setState({ side: "conform", asking: null });
}

async function sendOne(one: Incoming, file: File, along: File[]): Promise<void> {
  const named: Record<string, string> = {};
  for (const other of along) {
    const kept = await upload(other, one.stop.signal, () => {});
    if (typeof kept === "string") named[other.name] = kept;
  }
  const source = await upload(file, one.stop.signal, (sent) => setIncoming(one.id, { sent }));
  if (one.stop.signal.aborted) return;
  if (typeof source !== "string")
    return setIncoming(one.id, { problem: { reason: source.title, remedy: source.remedy } });
  setIncoming(one.id, { source, along: named, sent: 1 });
  await readAgain(one.id);
}

/** Send a file as it is; its key, or why it is not kept. A request of its own kind, since only that tells how much is sent. */
function upload(file: File, stop: AbortSignal, tell: (share: number) => void): Promise<string | Problem> {
  return new Promise((done) => {
    const request = new XMLHttpRequest();
    const lost = { title: `${file.name} was not sent.`, remedy: "Try again.", detail: "", status: 0 };
    request.open("POST", `/api/files?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (e) => e.lengthComputable && tell(e.loaded / e.total);
    request.onload = () =>
      done(request.status === 200 ? request.response.source : (request.response ?? lost));
    request.onerror = request.onabort = () => done(lost as Problem);
    stop.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

/** Read a file that is sent, as it was asked to be; told of until it is done. */
export async function readAgain(id: string, asked?: Partial<Incoming["asked"]>): Promise<void> {
  const one = useBringing.getState().files.find((file) => file.id === id);
  if (!one?.source) return;
  const how = { ...one.asked, ...asked };
  if (one.reading) void client.DELETE("/api/files/readings/{reading_id}", path(one.reading));
  setIncoming(id, { asked: how, reading: null, problem: null });
  const { data, problem } = await ask(
    client.POST("/api/files/readings", {
      body: {
        source: one.source,
        name: one.name,
        along: one.along,
        rate: useDocument.getState().scene?.rate,
        ...how,
      },
    }),
  );
  if (!data) return setIncoming(id, { problem: { reason: problem.title, remedy: problem.remedy } });
  let reading: Reading = data;
  setIncoming(id, { reading });
  while (reading.state === "waiting" || reading.state === "reading") {
    await new Promise((go) => setTimeout(go, ASK_MS));
    const now = useBringing.getState().files.find((file) => file.id === id);
    if (now?.reading?.id !== reading.id || now.stop.signal.aborted) return;
    const next = await ask(client.GET("/api/files/readings/{reading_id}", path(reading)));
    if (!next.data)
      return setIncoming(id, { problem: { reason: next.problem.title, remedy: next.problem.remedy } });
    reading = next.data;
    setIncoming(id, { reading });
  }
}

const path = (reading: Reading) => ({ params: { path: { reading_id: reading.id } } });

/** Leave a file out, whatever has become of it. */
export function leaveOut(id: string): void {
  const { files, chosen } = useBringing.getState();
  const one = files.find((file) => file.id === id);
  one?.stop.abort();
  if (one?.reading) void client.DELETE("/api/files/readings/{reading_id}", path(one.reading));
  const left = files.filter((file) => file.id !== id);
  useBringing.setState({ files: left, chosen: chosen === id ? (left[0]?.id ?? null) : chosen });
  if (!left.length) useView.setState({ asking: null });
}

/** Put a file of the library on the stage: a set with its origin on the stage's, a prop where the plan is looked at. */
export async function putUp(file: BroughtFile, as: "set" | "prop"): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Set";
  const { rover } = useView.getState();
  const id = newId(as === "set" ? "set" : "mov");
  const where = as === "prop" ? { x: round(rover.x), z: round(rover.z) } : {};
  const command = {
    kind: as === "set" ? "set.bring" : "prop.bring",
    id,
    name,
    file: file.key,
    parts: file.parts,
    ...where,
  } as Command;
  if (!complain(await send(command))) return false;
  const { scene } = useDocument.getState();
  if (as === "prop") select("mover", [id]);
  else {
    const pieces = scene?.pieces.filter((one) => one.id.startsWith(`${id}-`)) ?? [];
    select(
      "piece",
      pieces.map((one) => one.id),
    );
  }
  frameSelected();
  return true;
}

/** Read a clip of a file that is being brought in as motion, as one more that comes in. */
export const readClip = (file: Incoming, clip: string): void => readBeside(file, { motion: true, clip });

/** Read something else of a file that is being brought in, as one more that comes in. */
export function readBeside(file: Incoming, meant: Partial<Incoming["asked"]>): void {
  const one: Incoming = {
    ...file,
    id: newId("in"),
    asked: { ...ASKED, unit: file.asked.unit, up: file.asked.up, ...meant },
    reading: null,
    problem: null,
    put: false,
    stop: new AbortController(),
  };
  useBringing.setState((s) => ({ files: [...s.files, one], chosen: one.id }));
  void readAgain(one.id);
}

/** Keep how it looks, for the library. */
export async function keepPicture(file: BroughtFile, picture: Blob): Promise<void> {
  await fetch(`/api/files/${file.id}/picture`, {
    method: "PUT",
    body: picture,
    headers: { "Content-Type": "image/jpeg" },
  });
}

/** Put cameras of a file on the stage, their moves as keys: from the frame that the file says, else from the playhead on. */
export async function bringCameras(tracks: Schemas["CameraTrack"][], few: boolean): Promise<boolean> {
  const id = newId("cam");
  const otherwise = useMoment.getState().stage;
  const kept = complain(
    await send({ kind: "cameras.bring", id, cameras: tracks, few, otherwise } as Command),
  );
  if (kept) select("camera", [`${id}-0`]);
  return kept;
}

/** Give a figure the body of a character, or put a new figure with it where the plan is looked at. */
export async function giveCharacter(file: BroughtFile, figure: string | null): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Character";
  const { rover } = useView.getState();
  const id = newId("fig");
  const fresh = figure ? { figure } : { id, stature: file.height_m, x: round(rover.x), z: round(rover.z) };
  const command = { kind: "character.bring", file: file.key, name, ...fresh } as Command;
  if (!complain(await send(command))) return false;
  select("figure", [figure ?? id]);
  if (!figure) frameSelected();
  return true;
}

/** Have a figure do a recorded motion from the playhead on. */
export async function giveMotion(file: BroughtFile, figure: string, goes: boolean): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Motion";
  const frame = useMoment.getState().stage;
  const kept = complain(
    await send({
      kind: "motion.bring",
      figure,
      file: file.key,
      name,
      seconds: file.seconds,
      frame,
      goes,
    } as Command),
  );
  if (kept) select("figure", [figure]);
  return kept;
}

const round = (metres: number) => Math.round(metres * 100) / 100;

/** The same in every scene that uses it; what became of each is said. */
export async function renewEverywhere(file: BroughtFile, to: BroughtFile): Promise<boolean> {
  const { data, problem } = await ask(
    client.POST("/api/files/{file_id}/renew", {
      params: { path: { file_id: file.id } },
      body: { to: to.id },
    }),
  );
  if (!complain(problem) || !data) return false;
  const refused = data.filter((one) => one.refused);
  const done = data.filter((one) => !one.refused).map((one) => one.name);
  if (refused.length) notice(`Not in ${refused.map((one) => one.name).join(", ")}.`, refused[0].sentence);
  if (done.length) notice(`New version in ${done.join(", ")}. Undo takes it back in each.`, "", false);
  return done.length > 0;
}

/** Have a picture on the stage show another one, as wide and as high. */
export async function renewPicture(piece: Piece, to: BroughtFile): Promise<boolean> {
  const name = to.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Picture";
  return complain(await send({ kind: "piece.source", piece: piece.id, file: to.key, name } as Command));
}

/** Put a picture on a side of a piece: where files fell on it, else the side that faces whoever looks. */
export async function hangPicture(piece: Piece, file: BroughtFile): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Picture";
  const { onto } = useBringing.getState();
  const seen = cameraSeen();
  const eye = (seen && poseOf(seen, useMoment.getState().stage)) || roverPlace(useView.getState().rover);
  const { x, z } = onto?.piece === piece.id ? onto : eye;
  const id = newId("pic");
  const side = piece.part_of ? { side: "front" } : { x, z };
  const command = { kind: "picture.hang", id, piece: piece.id, file: file.key, part: file.parts[0], name };
  const kept = complain(await send({ ...command, ...side } as Command));
  if (kept) select("piece", [id]);
  return kept;
}

/** Work by a movie, from a frame of the cut or of the stage on. */
export async function takeReference(
  file: BroughtFile,
  clock: "cut" | "stage",
  first: number,
): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Movie";
  const movie = { file: file.key, name, seconds: file.seconds, fps: file.rate, clock, first };
  return complain(await send({ kind: "reference.take", movie } as Command));
}

/** Keep what is selected in the library, for any scene. */
export const keepSelected = (): Promise<boolean> => keep(useView.getState().ids, "things");

/** Keep things in the library, or the rig or the look of one alone. */
export async function keep(ids: string[], what: Schemas["KeepIn"]["what"]): Promise<boolean> {
  const { id } = useDocument.getState();
  if (id === null) return false;
  const { data, problem } = await ask(
    client.POST("/api/scenes/{scene_id}/keep", { params: { path: { scene_id: id } }, body: { ids, what } }),
  );
  if (!complain(problem) || !data) return false;
  notice(`${data.name} is in the library.`, "", false);
  useView.setState({ side: "library" });
  return true;
}

/** What is kept of things of our own; null where it cannot be had. */
async function keptThings(file: BroughtFile) {
  const { data, problem } = await ask(
    client.GET("/api/files/{file_id}/things", { params: { path: { file_id: file.id } } }),
  );
  return complain(problem) && data ? data : null;
}

/** Give a camera a kept rig. */
export async function takeRig(file: BroughtFile, camera: string): Promise<boolean> {
  const kept = await keptThings(file);
  return !!kept && complain(await send({ kind: "kept.rig", camera, kept } as unknown as Command));
}

/** Have a figure look as a kept one. */
export async function takeLook(file: BroughtFile, figure: string): Promise<boolean> {
  const kept = await keptThings(file);
  const command = { kind: "kept.look", figures: [figure], kept } as unknown as Command;
  return !!kept && complain(await send(command));
}

/** Put kept things on the stage, where the plan is looked at. */
export async function putThings(file: BroughtFile): Promise<boolean> {
  const data = await keptThings(file);
  if (!data) return false;
  const { rover } = useView.getState();
  const id = newId("own");
  const command = { kind: "things.bring", id, kept: data, x: round(rover.x), z: round(rover.z) };
  if (!complain(await send(command as unknown as Command))) return false;
  const { scene } = useDocument.getState();
  const fresh = (["figure", "mover", "camera", "piece"] as const).find((kind) =>
    scene?.[`${kind}s`].some((one) => one.id.startsWith(`${id}-`)),
  );
  if (fresh) {
    const ids = scene?.[`${fresh}s`].filter((one) => one.id.startsWith(`${id}-`)).map((one) => one.id) ?? [];
    select(fresh, ids);
    frameSelected();
  }
  return true;
}

/** Have everything of one file on this stage be of another. */
export async function renew(file: BroughtFile, to: BroughtFile): Promise<boolean> {
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80);
  return complain(
    await send({
      kind: "file.renew",
      id: newId("set"),
      name,
      file: file.key,
      to: to.key,
      before: file.parts,
      parts: to.parts,
    } as Command),
  );
}
