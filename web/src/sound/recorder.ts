import { catalogue } from "../api/catalogue";
import type { TimedLine } from "../api/types";
import { useDocument } from "../store/document";
import { withoutLine } from "../store/heard";
import { speakerOf } from "../store/lines";
import { lastRun, pause, playThrough, rate, span, useMoment } from "../store/moment";
import { timedLines } from "../store/samples";
import { send } from "../store/sending";
import { complain, notice, scrubStage } from "../store/view";
import { endsBy, useVoice } from "../store/voice";
import { newId } from "../verbs/new-id";
import { keepSound } from "../verbs/sounds";
import { audio } from "./player";
import tape from "./tape?worker&url";

/** How long a line may last beyond what its words take, seconds; and what is too soft to be a voice. */
const MORE_S = 4;
const SILENT = 0.003;

interface Block {
  at: number;
  heard: Float32Array;
}

const HEAR: MediaStreamConstraints = {
  audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
};

async function microphone(): Promise<MediaStream | null> {
  try {
    return await navigator.mediaDevices.getUserMedia(HEAR);
  } catch (error) {
    const refused = error instanceof DOMException && error.name === "NotAllowedError";
    notice(
      refused ? "This page may not use the microphone." : "No microphone was found.",
      refused ? "Allow it in the browser's address bar, then try again." : "Plug one in, then try again.",
    );
    return null;
  }
}

/** Samples as 16-bit WAV. */
function wav(samples: Float32Array, perSecond: number): Blob {
  const bytes = new DataView(new ArrayBuffer(44 + 2 * samples.length));
  const text = (at: number, what: string) => {
    for (let i = 0; i < what.length; i++) bytes.setUint8(at + i, what.charCodeAt(i));
  };
  text(0, "RIFF");
  bytes.setUint32(4, 36 + 2 * samples.length, true);
  text(8, "WAVEfmt ");
  bytes.setUint32(16, 16, true);
  bytes.setUint16(20, 1, true);
  bytes.setUint16(22, 1, true);
  bytes.setUint32(24, perSecond, true);
  bytes.setUint32(28, 2 * perSecond, true);
  bytes.setUint16(32, 2, true);
  bytes.setUint16(34, 16, true);
  text(36, "data");
  bytes.setUint32(40, 2 * samples.length, true);
  for (let i = 0; i < samples.length; i++)
    bytes.setInt16(44 + 2 * i, Math.round(Math.min(Math.max(samples[i], -1), 1) * 32_767), true);
  return new Blob([bytes.buffer], { type: "audio/wav" });
}

const seconds = (s: number) => new Promise((done) => setTimeout(done, s * 1000));

/** How a recording ends: whether it is over, whether what was heard is kept, and a promise that it is. */
class Ending {
  over = false;
  kept = true;
  done = () => {};
  readonly ended = new Promise<void>((go) => {
    this.done = go;
  });

  constructor() {
    endsBy((keep) => {
      this.over = true;
      this.kept = keep;
      pause();
      this.done();
    });
  }
}

/** Record a line over the picture, after a count; what was said is another try of its sound. */
export async function recordLine(line: string): Promise<void> {
  const time = timedLines().find((one) => one.id === line);
  const { scene } = useDocument.getState();
  const spoken = scene?.lines.find((one) => one.id === line);
  if (!time || !scene || !spoken || useVoice.getState().line) return;
  pause();
  const lead = catalogue.hand.count_in_s;
  // It can be ended from the start: the microphone may take a moment to open.
  const ending = new Ending();
  useVoice.setState({ line, count: lead });
  const stream = await microphone();
  try {
    if (stream && !ending.over) await taped(stream, ending, time, lead, speakerOf(scene, spoken).name);
  } finally {
    for (const track of stream?.getTracks() ?? []) track.stop();
    endsBy(() => {});
    withoutLine(null);
    useVoice.setState({ line: null, count: 0 });
  }
}

/** Play the picture from the count on, and keep what the microphone hears of a line. */
async function taped(
  stream: MediaStream,
  ending: Ending,
  time: TimedLine,
  lead: number,
  name: string,
): Promise<void> {
  const { context } = audio();
  await context.resume();
  await context.audioWorklet.addModule(tape);
  const source = context.createMediaStreamSource(stream);
  const node = new AudioWorkletNode(context, "tape");
  // It is only run if it leads to where sound goes.
  const mute = new GainNode(context, { gain: 0 });
  source.connect(node).connect(mute).connect(context.destination);
  const blocks: Block[] = [];
  node.port.onmessage = (e: MessageEvent<Block>) => blocks.push(e.data);

  const fps = rate();
  const { first, last } = span("stage");
  const from = Math.max(time.first - Math.round(lead * fps), first);
  const to = Math.min(time.last + Math.round(MORE_S * fps), last);
  withoutLine(time.id);
  scrubStage(from);
  // Where the stage does not go back so far, part of the count is over a picture that stands still.
  const ahead = (time.first - from) / fps;
  const moves = performance.now() + (lead - ahead) * 1000;
  for (let still = lead - ahead; still > 0 && !ending.over; still = (moves - performance.now()) / 1000) {
    useVoice.setState({ count: Math.ceil(still + ahead) });
    await seconds(Math.min(still, 0.05));
  }
  let begins = 0;
  if (!ending.over) {
    playThrough(from, to, (at) => {
      useVoice.setState({ count: Math.max(Math.ceil((time.first - at) / fps), 0) });
    });
    // It ends with the picture, whoever stops that.
    const unwatch = useMoment.subscribe((s) => !s.playing && ending.done());
    const run = lastRun();
    const now = context.currentTime - (performance.now() - (run?.at ?? 0)) / 1000;
    begins = now + ahead;
    await ending.ended;
    unwatch();
  }
  const delay = (stream.getAudioTracks()[0].getSettings() as { latency?: number }).latency ?? 0;
  // The last blocks are still on their way.
  await seconds(0.1);
  source.disconnect();
  node.disconnect();
  mute.disconnect();
  if (!ending.kept || !blocks.length) return;
  const samples = new Float32Array(blocks.reduce((sum, one) => sum + one.heard.length, 0));
  let at = 0;
  for (const { heard } of blocks) {
    samples.set(heard, at);
    at += heard.length;
  }
  const slip = Math.max(Math.round((begins + delay) * context.sampleRate) - blocks[0].at, 0);
  if (slip >= samples.length || samples.slice(slip).every((value) => Math.abs(value) < SILENT))
    return notice("Nothing was heard.", "Look whether the microphone is on, and speak after the count.");
  const data = await keepSound(wav(samples, context.sampleRate), `${name}.wav`);
  if (!data) return;
  const { key: file, samples: length, until, level } = data;
  const id = newId("snd");
  complain(
    await send({ kind: "sound.add", id, name, file, samples: length, line: time.id, slip, until, level }),
  );
  scrubStage(time.first);
}
