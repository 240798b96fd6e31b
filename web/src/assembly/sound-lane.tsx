import { useEffect, useRef } from "react";
import type { Command, Sound } from "../api/types";
import { useDocument } from "../store/document";
import { rate, useMoment } from "../store/moment";
import { SOUNDS, soundTimes, useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain, useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Popped } from "../ui/menu";
import { nudge } from "../ui/nudge";
import { NumberField } from "../ui/number-field";
import { Lane, useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import { movesLines } from "../verbs/lines";
import { SOUND_LANES } from "../verbs/sounds";
import { trying } from "./lane-marks";
import { LaneName } from "./lane-name";
import { snapped, wordSpots } from "./snaps";

/** Samples a second, and pairs of a waveform to a second, as the server keeps them. */
const SAMPLES = 48_000;
const PAIRS = 100;

const waves = new Map<string, Promise<Int8Array>>();
const wave = (file: string): Promise<Int8Array> => {
  let found = waves.get(file);
  if (!found) {
    found = fetch(`/api/sounds/${file}/peaks`).then(async (answer) =>
      answer.ok ? new Int8Array(await answer.arrayBuffer()) : new Int8Array(),
    );
    waves.set(file, found);
  }
  return found;
};

/** The waveform of what is heard of a sound, as wide as its block. */
export function Waveform({ sound, wide, high }: { sound: Sound; wide: number; high: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const version = useVersion(SOUNDS);
  const dim = useView((s) => s.dim);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another period, or colour, is the reason to run
  useEffect(() => {
    let wanted = true;
    const period = soundTimes().find((one) => one.id === sound.id)?.period;
    void wave(sound.file).then((pairs) => {
      const pen = canvas.current?.getContext("2d");
      if (!wanted || !pen || !canvas.current) return;
      const { width, height } = canvas.current;
      pen.clearRect(0, 0, width, height);
      pen.fillStyle = getComputedStyle(canvas.current).color;
      const from = (sound.slip / SAMPLES) * PAIRS;
      const per = ((sound.frames / rate()) * PAIRS) / width;
      const round = period ? (period / SAMPLES) * PAIRS : Number.POSITIVE_INFINITY;
      for (let x = 0; x < width; x++) {
        let [low, most] = [0, 0];
        const end = Math.max((x + 1) * per, x * per + 1);
        for (let along = x * per; along < end; along++) {
          const i = Math.floor(from + (along % round));
          if (2 * i + 1 >= pairs.length) break;
          low = Math.min(low, pairs[2 * i]);
          most = Math.max(most, pairs[2 * i + 1]);
        }
        const top = (1 - most / 127) * (height / 2);
        pen.fillRect(x, top, 1, Math.max((1 - low / 127) * (height / 2) - top, 1));
      }
    });
    return () => {
      wanted = false;
    };
  }, [sound, version, dim]);
  return (
    <canvas
      ref={canvas}
      width={Math.max(Math.min(Math.round(wide), 4000), 1)}
      height={Math.max(Math.round(high), 1)}
      className="pointer-events-none absolute inset-0 h-full w-full text-slate/60"
    />
  );
}

/** The sounds of a lane, on the ruler of the stage or of the cut. */
export function SoundBlocks({ on, lane }: { on: Sound["on"]; lane: Sound["lane"] }) {
  const scene = useDocument((s) => s.shown);
  useVersion(SOUNDS);
  const firsts = new Map(soundTimes().map((one) => [one.id, one.first]));
  return scene?.sounds
    .filter((one) => one.on === on && one.lane === lane)
    .map((one) => (
      <SoundBlock key={one.id} sound={one} first={one.line ? (firsts.get(one.id) ?? one.first) : one.first} />
    ));
}

function SoundBlock({ sound, first }: { sound: Sound; first: number }) {
  const along = useAlong();
  const hold = useFrameHold();
  const last = first + sound.frames - 1;
  if (!visible(along, first, last)) return null;
  const spots = () => {
    const at = sound.on === "stage" ? useMoment.getState().stage : useMoment.getState().cut;
    return [{ at, name: "the playhead" }, ...(sound.on === "stage" ? wordSpots() : [])];
  };
  const moved = (by: number): Command =>
    sound.line ? movesLines(sound.line, by) : { kind: "sound.set", sound: sound.id, first: sound.first + by };
  const carried = () => {
    const to = spots();
    return trying((n, hand) => {
      if (hand.shift) return { kind: "sound.slip", sound: sound.id, by: n };
      return moved(hand.ctrl || hand.alt ? n : snapped(n, first, to, along.ppf).by);
    });
  };
  const fades = (which: "fade_in" | "fade_out") =>
    hold(() => {
      const was = sound[which];
      const sign = which === "fade_in" ? 1 : -1;
      return trying((n) => ({
        kind: "sound.set",
        sound: sound.id,
        [which]: Math.max(was + sign * n, 0),
      }));
    });
  const edge = (end: "first" | "last") =>
    hold(() => {
      const to = spots();
      const at = end === "first" ? first : last + 1;
      return trying((n, hand) => ({
        kind: "sound.trim",
        sound: sound.id,
        end,
        by: hand.ctrl || hand.alt ? n : snapped(n, at, to, along.ppf).by,
      }));
    });
  const width = Math.max(sound.frames * along.ppf - 1, 3);
  const fade = (frames: number) => Math.min(frames * along.ppf, width);
  return (
    <div
      className="group absolute inset-y-px"
      style={{ left: xOf(along, first), width }}
      data-sound={sound.id}
    >
      <button
        type="button"
        aria-label={`Sound ${sound.name}, ${first} to ${last} of the ${sound.on}`}
        className="absolute inset-0 cursor-grab overflow-hidden rounded-[3px] border border-slate/50 bg-slate-wash text-left text-xs leading-none"
        title={`${sound.name}${sound.gain_db ? `, ${sound.gain_db} dB` : ""}: drag to move it, Shift slips what is heard in it, an end trims it, an upper corner fades it`}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          if (e.key === "Delete" || e.key === "Backspace") {
            e.preventDefault();
            e.stopPropagation();
            void send({ kind: "things.delete", ids: [sound.id] }).then(complain);
          } else if (by && !e.ctrlKey && !e.metaKey) {
            e.preventDefault();
            e.stopPropagation();
            const far = by * (e.shiftKey ? Math.round(rate()) : 1);
            void nudge(sound.id, [far], async ([sum]) => {
              const now = useDocument.getState().scene?.sounds.find((one) => one.id === sound.id);
              if (!now) return false;
              const command: Command = now.line
                ? movesLines(now.line, sum)
                : { kind: "sound.set", sound: now.id, first: now.first + sum };
              return complain(await send(command));
            });
          }
        }}
        {...hold(carried)}
      >
        <Waveform sound={sound} wide={width} high={18} />
        <svg
          aria-hidden="true"
          className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
        >
          <line x1={0} y1="100%" x2={fade(sound.fade_in)} y2={0} className="stroke-ink" />
          <line x1={width - fade(sound.fade_out)} y1={0} x2={width} y2="100%" className="stroke-ink" />
        </svg>
        <span className="relative flex h-full items-center truncate px-1">{sound.name}</span>
      </button>
      <div
        className="absolute inset-y-0 left-0 w-1.5 cursor-w-resize"
        data-sound-end="first"
        {...edge("first")}
      />
      <div
        className="absolute inset-y-0 right-0 w-1.5 cursor-e-resize"
        data-sound-end="last"
        {...edge("last")}
      />
      {width > 40 &&
        (["fade_in", "fade_out"] as const).map((which) => (
          <div
            key={which}
            data-sound-fade={which}
            className="absolute top-0 size-2 -translate-x-1/2 cursor-ew-resize rounded-full border border-slate bg-sheet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
            style={{
              left: Math.min(
                Math.max(which === "fade_in" ? fade(sound.fade_in) : width - fade(sound.fade_out), 8),
                width - 8,
              ),
            }}
            title={`${which === "fade_in" ? "Fade in" : "Fade out"}: ${sound[which]} f`}
            {...fades(which)}
          />
        ))}
      {width > 80 && (
        <div className="absolute top-0 right-6 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
          <Popped
            label={`Sound ${sound.name}`}
            trigger={
              <button
                type="button"
                className="rounded-sm bg-sheet px-1 text-xs leading-4 text-ink"
                aria-label={`More of the sound ${sound.name}`}
              >
                ▾
              </button>
            }
          >
            <SoundCard sound={sound} />
          </Popped>
        </div>
      )}
    </div>
  );
}

function SoundCard({ sound }: { sound: Sound }) {
  const set = (change: Record<string, unknown>, seen?: number) =>
    send({ kind: "sound.set", sound: sound.id, ...change }, seen);
  const frames = { digits: 0, step: 1, unit: "f" };
  return (
    <div className="flex w-60 flex-col gap-1.5 p-1.5">
      <TextField label="Sound" value={sound.name} onSet={(name, seen) => set({ name }, seen)} />
      <Choice
        label="Lane"
        value={sound.lane}
        options={Object.entries(SOUND_LANES).map(([value, label]) => ({
          value: value as Sound["lane"],
          label,
        }))}
        onSet={(lane) => void set({ lane }).then(complain)}
      />
      <NumberField
        label="Level"
        unit="dB"
        digits={1}
        step={0.5}
        value={sound.gain_db}
        onSet={(gain_db, seen) => set({ gain_db }, seen)}
      />
      <NumberField
        label="Fade in"
        {...frames}
        value={sound.fade_in}
        onSet={(to, seen) => set({ fade_in: Math.round(to) }, seen)}
      />
      <NumberField
        label="Fade out"
        {...frames}
        value={sound.fade_out}
        onSet={(to, seen) => set({ fade_out: Math.round(to) }, seen)}
      />
      <Tick on={sound.loop} onSet={(loop) => void set({ loop }).then(complain)}>
        loop it
      </Tick>
      <p className="text-xs text-faint">
        {sound.line
          ? "The sound of a line: it begins with that"
          : sound.on === "stage"
            ? "On the stage: heard wherever the cut shows those frames"
            : "In the cut: heard once, at its place there"}
      </p>
      <Button onClick={() => void send({ kind: "things.delete", ids: [sound.id] }).then(complain)}>
        Delete this sound
      </Button>
    </div>
  );
}

/** A lane of sounds with its name. */
export function SoundLane({ on, lane }: { on: Sound["on"]; lane: Sound["lane"] }) {
  return (
    <Lane name={<LaneName lane={lane} />} height={on === "cut" ? 22 : undefined}>
      <SoundBlocks on={on} lane={lane} />
    </Lane>
  );
}

/** Under the shots: the sounds that lie in the cut. */
export default function CutSounds() {
  const sounds = useDocument((s) => s.shown?.sounds) ?? [];
  const lanes = (Object.keys(SOUND_LANES) as Sound["lane"][]).filter((lane) =>
    sounds.some((one) => one.on === "cut" && one.lane === lane),
  );
  return lanes.map((lane) => <SoundLane key={lane} on="cut" lane={lane} />);
}
