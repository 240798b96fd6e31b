import { useDocument } from "../store/document";
import { lanesHeard, useHeard } from "../store/heard";
import { type Clock, lastRun, type Run, useMoment } from "../store/moment";
import { cutTable } from "../store/samples";

/** How much is fetched and scheduled at once, seconds; and how far ahead it is fetched. */
const CHUNK_S = 5;
const AHEAD_S = 3;
/** What is heard of a frame that is scrubbed to, and how softly it begins and ends, seconds. */
const GRAIN_S = 0.06;
const RAMP_S = 0.005;
/** Grains come no closer than this, milliseconds. */
const GRAIN_MS = 33;
const KEPT = 60;

let context: AudioContext | null = null;
let out: GainNode | null = null;
let playing: { stop: () => void } | null = null;
let lastGrain = 0;
const chunks = new Map<string, Promise<AudioBuffer | null>>();

/** The audio of this page; a browser lets it begin with a press, which is what makes something play. */
export function audio(): { context: AudioContext; out: GainNode } {
  if (!context || !out) {
    context = new AudioContext({ sampleRate: 48_000 });
    out = context.createGain();
    out.connect(context.destination);
  }
  return { context, out };
}

/** Silence what sounds, or let it be heard again. */
export function setHeard(on: boolean): void {
  if (context && out) out.gain.setTargetAtTime(on ? 1 : 0, context.currentTime, RAMP_S);
  heard = on;
}
let heard = true;

interface Ruler {
  on: Clock;
  /** Its first frame, from which the server counts, and how many frames it has. */
  first: number;
  length: number;
  fps: number;
  /** Which lanes are asked for, where not all are. */
  asked: string;
  /** How fast it plays: less than nothing, backwards. */
  speed: number;
  /** What is tried out, where the cut would be another. */
  tried: string | null;
  /** Under what everything that is heard is kept. */
  key: string;
}

function ruler(on: Clock, speed = 1): Ruler | null {
  const { id, scene, keys, overlay } = useDocument.getState();
  if (id === null || !(scene?.sounds.length || scene?.lines.length)) return null;
  const [top, bottom] = scene.rate.split("/").map(Number);
  const length = on === "cut" ? (cutTable()?.length ?? 0) : scene.frames.last - scene.frames.first + 1;
  const first = on === "cut" ? 0 : scene.frames.first;
  const lanes = lanesHeard();
  if (!length || lanes?.length === 0) return null;
  const heard = lanes ? lanes.map((lane) => `&lanes=${lane}`).join("") : "";
  const { without } = useHeard.getState();
  const asked = `${heard}${without ? `&without=${without}` : ""}&speed=${Math.abs(speed)}&backwards=${speed < 0}`;
  const tried = overlay?.placed ? JSON.stringify({ command: overlay.command }) : null;
  const key = `${id} ${keys["scene:sounds"]}${asked}${tried ?? ""}`;
  return { on, first, length, fps: top / bottom, speed, asked, tried, key };
}

/** Frames of a chunk: whole seconds would not be whole frames at every rate. */
const chunkFrames = (of: Ruler) => Math.max(Math.round(CHUNK_S * of.fps), 1);

function chunk(of: Ruler, number: number): Promise<AudioBuffer | null> {
  const size = chunkFrames(of);
  const first = number * size;
  const count = Math.min(size, of.length - first);
  if (number < 0 || count <= 0) return Promise.resolve(null);
  const name = `${of.key} ${of.on} ${first} ${count}`;
  let found = chunks.get(name);
  if (!found) {
    const { id } = useDocument.getState();
    found = fetch(
      `/api/scenes/${id}/heard?on=${of.on}&first=${first}&count=${count}${of.asked}`,
      of.tried
        ? { method: "POST", headers: { "Content-Type": "application/json" }, body: of.tried }
        : undefined,
    )
      .then(async (answer) =>
        answer.ok ? audio().context.decodeAudioData(await answer.arrayBuffer()) : null,
      )
      .catch(() => null);
    chunks.set(name, found);
    for (const old of chunks.keys()) {
      if (chunks.size <= KEPT) break;
      chunks.delete(old);
    }
  }
  return found;
}

/** A stretch of what plays that lies in one chunk: where in it, for how long, and when after play began; seconds. */
interface Piece {
  number: number;
  offset: number;
  length: number;
  at: number;
}

/** What plays in pieces, round and round where it goes round. */
function* pieces(of: Ruler, run: Run): Generator<Piece> {
  const size = chunkFrames(of);
  const back = of.speed < 0;
  const perSecond = of.fps * Math.abs(of.speed);
  const [low, high] = [run.first - of.first, run.first + run.count - of.first];
  const [start, end] = back ? [high, low] : [low, high];
  // Backwards a frame is heard from its end on.
  let edge = run.from - of.first + (back ? 1 : 0);
  let at = 0;
  do {
    while (edge !== end) {
      const number = back ? Math.ceil(edge / size) - 1 : Math.floor(edge / size);
      const [begins, ends] = [number * size, Math.min((number + 1) * size, of.length)];
      const stop = back ? Math.max(begins, end) : Math.min(ends, end);
      const length = Math.abs(stop - edge) / perSecond;
      yield { number, offset: (back ? ends - edge : edge - begins) / perSecond, length, at };
      edge = stop;
      at += length;
    }
    edge = start;
  } while (run.looping);
}

/** Play along with the picture, by the audio's own clock, however late pictures come. The mix is the server's, as in a render. */
function begin(of: Ruler, run: Run): { stop: () => void } {
  const { context, out } = audio();
  const sources = new Set<AudioBufferSourceNode>();
  const all = pieces(of, run);
  let over = false;
  let zero: number | null = null;
  const next = async () => {
    const { value: piece } = all.next();
    const buffer = piece ? await chunk(of, piece.number) : null;
    // Until it runs its clock stands still.
    await context.resume();
    if (over || !piece || !buffer) return;
    // What is scheduled is heard later by what the device takes.
    zero ??= context.currentTime - (performance.now() - run.at) / 1000 - (context.outputLatency || 0);
    const begins = zero + piece.at;
    const late = Math.max(context.currentTime + 0.01 - begins, 0);
    if (late < piece.length) {
      const source = context.createBufferSource();
      source.buffer = buffer;
      source.connect(out);
      source.onended = () => sources.delete(source);
      // On a whole sample, so that pieces join without a seam.
      const when = Math.round((begins + late) * 48_000) / 48_000;
      source.start(when, piece.offset + late, piece.length - late);
      sources.add(source);
    }
    const ahead = begins + piece.length - AHEAD_S - context.currentTime;
    window.setTimeout(() => !over && void next(), Math.max(ahead * 1000, 0));
  };
  void next();
  return {
    stop: () => {
      over = true;
      for (const source of sources) source.stop();
    },
  };
}

/** A grain of what is heard at a frame, while it is scrubbed. */
async function grain(of: Ruler, frame: number): Promise<void> {
  const stamp = performance.now();
  if (!heard || stamp - lastGrain < GRAIN_MS) return;
  lastGrain = stamp;
  const size = chunkFrames(of);
  const number = Math.floor((frame - of.first) / size);
  const buffer = await chunk(of, number);
  // A newer frame has come meanwhile.
  if (!buffer || lastGrain !== stamp) return;
  const { context, out } = audio();
  void context.resume();
  const source = context.createBufferSource();
  const soft = context.createGain();
  const start = context.currentTime;
  source.buffer = buffer;
  source.connect(soft).connect(out);
  soft.gain.setValueAtTime(0, start);
  soft.gain.linearRampToValueAtTime(1, start + RAMP_S);
  soft.gain.setValueAtTime(1, start + GRAIN_S - RAMP_S);
  soft.gain.linearRampToValueAtTime(0, start + GRAIN_S);
  source.start(start, (frame - of.first - number * size) / of.fps, GRAIN_S);
}

/** Have what plays or is scrubbed be heard; the answer ends it. */
export function listen(): () => void {
  let heardRun: Run | null = null;
  const stop = () => {
    playing?.stop();
    playing = null;
    heardRun = null;
  };
  const start = () => {
    stop();
    heardRun = lastRun();
    const of = heardRun && ruler(useMoment.getState().clock, heardRun.speed);
    if (of && heardRun) playing = begin(of, heardRun);
  };
  const ends = useMoment.subscribe((s, was) => {
    const [now, before] = s.clock === "cut" ? [s.cut, was.cut] : [s.stage, was.stage];
    if (s.playing) {
      if (lastRun() !== heardRun) start();
    } else if (was.playing) stop();
    else if (now !== before && s.clock === was.clock) {
      const of = context ? ruler(s.clock) : null;
      if (of) void grain(of, now);
    }
  });
  const changes = useDocument.subscribe((s, was) => {
    if (s.keys["scene:sounds"] !== was.keys["scene:sounds"] && useMoment.getState().playing) start();
  });
  const lanes = useHeard.subscribe(() => useMoment.getState().playing && start());
  return () => {
    ends();
    lanes();
    changes();
    stop();
  };
}
