import type { Shot, Sound, TimedLine } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { hue } from "../store/hues";
import { CUT, LINES, placedShots, SOUNDS, soundTimes, timedLines, useVersion } from "../store/samples";
import { Lane, useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import { besides, dragEdges, edgeOf, keptPlace } from "./edit-drag";
import { cutSpots, stageSpots } from "./snaps";
import { Waveform } from "./sound-lane";

interface Span {
  shot: Shot;
  /** Where its picture begins in the cut. */
  at: number;
  /** The frames of the cut in which the sound of its stage frames is heard. */
  first: number;
  last: number;
  touches: boolean;
}

function spans(shots: Shot[]): Span[] {
  const byId = new Map(shots.map((shot) => [shot.id, shot]));
  const order = placedShots();
  return order.flatMap((placed, i) => {
    const shot = byId.get(placed.id);
    const next = byId.get(order[i + 1]?.id);
    if (!shot) return [];
    return {
      shot,
      at: placed.cut_first,
      first: placed.cut_first - (shot.sound_lead ?? 0),
      last: placed.cut_last - (next?.sound_lead ?? 0),
      touches: i > 0 && shot.gap_before === 0,
    };
  });
}

/** The sound that the stage makes in a shot, as far as it is heard in the cut. */
function Heard({ span, sounds, lines }: { span: Span; sounds: [Sound, number][]; lines: TimedLine[] }) {
  const along = useAlong();
  const camera = useDocument((s) => itemOf(s.shown, "cameras", span.shot.camera ?? ""));
  if (!camera || !visible(along, span.first, span.last)) return null;
  const width = Math.max((span.last - span.first + 1) * along.ppf - 1, 3);
  const offset = span.at - span.shot.stage.first - span.first;
  return (
    <div
      className="absolute inset-y-px overflow-hidden rounded-[2px] border-b-2 bg-slate-wash/60"
      style={{ left: xOf(along, span.first), width, borderColor: hue(camera.letter) }}
      data-shot-sound={span.shot.name}
      title={`The sound of the stage in ${span.shot.name}: frames ${span.first} to ${span.last} of the cut`}
    >
      {sounds
        .filter(
          ([sound, first]) =>
            first + offset < span.last - span.first + 1 && first + offset + sound.frames > 0,
        )
        .map(([sound, first]) => (
          <div
            key={sound.id}
            className="absolute inset-y-0"
            style={{ left: (first + offset) * along.ppf, width: Math.max(sound.frames * along.ppf, 1) }}
          >
            <Waveform sound={sound} wide={sound.frames * along.ppf} high={16} />
          </div>
        ))}
      {lines
        .filter((one) => one.first + offset < span.last - span.first + 1 && one.last + offset >= 0)
        .map((one) => (
          <div
            key={one.id}
            className="absolute inset-y-1 rounded-[2px] border border-slate/60 bg-slate/25"
            style={{
              left: (one.first + offset) * along.ppf,
              width: Math.max((one.last - one.first + 1) * along.ppf, 2),
            }}
          />
        ))}
    </div>
  );
}

/** Where the sound changes to a shot's: dragged apart from where the picture does. */
function SoundJoint({ span }: { span: Span }) {
  const along = useAlong();
  const hold = useFrameHold();
  const { shot, first } = span;
  const lead = shot.sound_lead ?? 0;
  return (
    <>
      {lead !== 0 && (
        <div
          className="pointer-events-none absolute top-0 h-0.5 bg-slate"
          style={{ left: xOf(along, Math.min(first, span.at)), width: Math.abs(lead) * along.ppf }}
        />
      )}
      <div
        className="group absolute inset-y-0 z-1 w-2.5 -translate-x-1/2 cursor-col-resize"
        style={{ left: xOf(along, first) }}
        data-sound-joint={shot.id}
        title={`${told(lead)} to ${shot.name}. Drag it apart from the picture's cut; on that, the keys , and . move it.`}
        {...hold(() => {
          const { before } = besides(shot);
          const at = keptPlace(shot.id)?.cut_first ?? span.at;
          const stage = shot.stage.first - lead;
          return dragEdges(
            {
              edit: () => ({ edit: "sound", shots: [shot.id] }),
              at: first,
              spots: () => [
                { from: stage, spots: stageSpots(shot) },
                ...(before ? [{ from: before.stage.last + 1 - lead, spots: stageSpots(before) }] : []),
                { from: first, spots: [{ at, name: "the picture's cut" }, ...cutSpots([shot.id])] },
              ],
              edges: () => edgeOf(shot, "first"),
            },
            along.ppf,
          );
        })}
      >
        <div className={`mx-auto h-full group-hover:bg-slate ${lead ? "w-1 bg-slate" : "w-0.5 bg-ink/50"}`} />
      </div>
      {lead !== 0 && (
        <span
          className="pointer-events-none absolute top-0.5 z-1 px-0.5 text-xs leading-3 text-slate"
          style={{ left: xOf(along, Math.min(first, span.at)) + 4 }}
        >
          {lead > 0 ? `leads ${lead} f` : `trails ${-lead} f`}
        </span>
      )}
    </>
  );
}

const told = (lead: number) =>
  lead === 0
    ? "Sound and picture change together"
    : `The sound changes ${Math.abs(lead)} f ${lead > 0 ? "before" : "after"} the picture`;

/** Under the shots: the sound the stage makes in each, and where one changes to the next. */
export default function ShotSounds() {
  const scene = useDocument((s) => s.shown);
  useVersion(CUT);
  useVersion(SOUNDS);
  useVersion(LINES);
  if (!scene) return null;
  const firsts = new Map(soundTimes().map((one) => [one.id, one.first]));
  const sounds = scene.sounds
    .filter((one) => one.on === "stage")
    .map((one): [Sound, number] => [one, one.line ? (firsts.get(one.id) ?? one.first) : one.first]);
  // Stand-in voices have no waveform here.
  const recorded = new Set(scene.sounds.map((one) => one.line));
  const lines = scene.stand_ins ? timedLines().filter((one) => !recorded.has(one.id)) : [];
  const all = spans(scene.shots);
  return (
    <Lane name="Stage sound" height={22}>
      {all.map((span) => (
        <Heard key={span.shot.id} span={span} sounds={sounds} lines={lines} />
      ))}
      {all
        .filter((span) => span.touches)
        .map((span) => (
          <SoundJoint key={span.shot.id} span={span} />
        ))}
    </Lane>
  );
}
