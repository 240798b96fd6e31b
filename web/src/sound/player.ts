import { useDocument } from "../store/document";
import { lanesHeard, useHeard } from "../store/heard";
import { type Clock, playedSince, useMoment } from "../store/moment";
import { cutTable } from "../store/samples";

/** How much is fetched and scheduled at once, seconds; and how far ahead it is fetched. */
const CHUNK_S = 5;
const AHEAD_S = 3;
/** What is heard of a frame that is scrubbed to, and how softly it begins and ends, seconds. */
const GRAIN_S = 0.06;
const RAMP_S = 0.005;
/** A picture may show the first frame of the next round so much before it is due, milliseconds. */
const LEAD_MS = 250;
/** Grains come no closer than this, milliseconds. */
const GRAIN_MS = 33;
const KEPT = 60;

let context: AudioContext | null = null;
let out: GainNode | null = null;
let playing: { stop: (inMs?: number) => void } | null = null;
let lastGrain = 0;
const chunks = new Map<string, Promise<AudioBuffer | null>>();

/** The audio of this page; a browser lets it begin with a press, which is what makes something play. */
function audio(): { context: AudioContext; out: GainNode } {
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
  /** Under what everything that is heard is kept. */
  key: string;
}

function ruler(on: Clock): Ruler | null {
  const { id, scene, keys } = useDocument.getState();
  if (id === null || !scene?.sounds.length) return null;
  const [top, bottom] = scene.rate.split("/").map(Number);
  const length = on === "cut" ? (cutTable()?.length ?? 0) : scene.frames.last - scene.frames.first + 1;
  const first = on === "cut" ? 0 : scene.frames.first;
  const lanes = lanesHeard();
  if (!length || lanes?.length === 0) return null;
  const asked = lanes ? lanes.map((lane) => `&lanes=${lane}`).join("") : "";
  return { on, first, length, fps: top / bottom, asked, key: `${id} ${keys["scene:sounds"]}${asked}` };
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
    found = fetch(`/api/scenes/${id}/heard?on=${of.on}&first=${first}&count=${count}${of.asked}`)
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

/** Play from a frame on, which is seen at a time of the page; the mix is the server's, so it is what a render has. */
function begin(of: Ruler, from: number, at: number): { stop: (inMs?: number) => void } {
  const { context, out } = audio();
  const sources: AudioBufferSourceNode[] = [];
  let over = false;
  const size = chunkFrames(of);
  let zero: number | null = null;
  const schedule = async (number: number) => {
    const buffer = await chunk(of, number);
    // Until it runs its clock stands still.
    await context.resume();
    if (over || !buffer) return;
    // Where in audio time the ruler's first frame lies: what is scheduled is heard later by what the device takes.
    const since = (performance.now() - at) / 1000 + (from - of.first) / of.fps;
    zero ??= context.currentTime - since - (context.outputLatency || 0);
    const begins = zero + (number * size) / of.fps;
    const late = Math.max(context.currentTime + 0.01 - begins, 0);
    if (late < buffer.duration) {
      const source = context.createBufferSource();
      source.buffer = buffer;
      source.connect(out);
      // On a whole sample, so that chunks join without a seam.
      source.start(Math.round((begins + late) * 48_000) / 48_000, late);
      sources.push(source);
    }
    const ahead = begins + buffer.duration - AHEAD_S - context.currentTime;
    window.setTimeout(() => !over && void schedule(number + 1), Math.max(ahead * 1000, 0));
  };
  void schedule(Math.floor((from - of.first) / size));
  return {
    stop: (inMs = 0) => {
      over = true;
      for (const source of sources) source.stop(context.currentTime + inMs / 1000);
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

/** Have what plays or is scrubbed be heard; the answer ends it. At other than full speed it is silent. */
export function listen(): () => void {
  const stop = () => {
    playing?.stop();
    playing = null;
  };
  const start = (again = false) => {
    const { clock, speed } = useMoment.getState();
    const of = speed === 1 ? ruler(clock) : null;
    const now = performance.now() + (again ? LEAD_MS : 0);
    const since = playedSince(now);
    const at = since ? now - since.seconds * 1000 : 0;
    playing?.stop(again ? Math.max(at - performance.now(), 0) : 0);
    playing = of && since ? begin(of, since.start, at) : null;
  };
  const ends = useMoment.subscribe((s, was) => {
    const [now, before] = s.clock === "cut" ? [s.cut, was.cut] : [s.stage, was.stage];
    if (s.playing !== was.playing) {
      if (s.playing) start();
      else stop();
    } else if (s.playing) {
      // It goes round, or is put elsewhere.
      if (now < before) start(true);
      else if (s.clock !== was.clock || s.speed !== was.speed) start();
    } else if (now !== before && s.clock === was.clock) {
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
