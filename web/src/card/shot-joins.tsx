import type { Shot } from "../api/types";
import { rate } from "../store/moment";
import { send } from "../store/sending";
import { ColourField } from "../ui/colour-field";
import { NumberField } from "../ui/number-field";
import { Section } from "./section";

/** How shots come and go: dissolves and fades, in frames. */
export function ShotJoins({ shot, ids }: { shot: Shot; ids: string[] }) {
  const [before, after] = shot.dissolve ?? [0, 0];
  const fade = (edit: "fade_in" | "fade_out", frames: number, at?: number, colour?: string) =>
    send({ kind: "cut.edit", do: { edit, shots: ids, frames: Math.round(frames), colour } }, at);
  const mixed = (frames: [number, number], at: number) =>
    send({ kind: "cut.edit", do: { edit: "dissolve", shots: ids, frames } }, at);
  const frames = { counts: true, digits: 0, step: 1, unit: "f", perSecond: rate() };
  return (
    <Section title="Joins">
      <NumberField
        {...frames}
        label="Dissolve before the cut"
        value={before}
        onSet={(v, at) => mixed([Math.round(v), after], at)}
      />
      <NumberField
        {...frames}
        label="Dissolve after it"
        value={after}
        onSet={(v, at) => mixed([before, Math.round(v)], at)}
      />
      <NumberField
        {...frames}
        label="Sound leads by"
        value={shot.sound_lead ?? 0}
        onSet={(lead, at) =>
          send({ kind: "cut.edit", do: { edit: "sound", shots: ids, lead: Math.round(lead) } }, at)
        }
      />
      <NumberField
        {...frames}
        label="Fade in"
        value={shot.fade_in ?? 0}
        onSet={(v, at) => fade("fade_in", v, at)}
      />
      <NumberField
        {...frames}
        label="Fade out"
        value={shot.fade_out ?? 0}
        onSet={(v, at) => fade("fade_out", v, at)}
      />
      {Boolean(shot.fade_in || shot.fade_out) && (
        <ColourField
          label="Fade colour"
          value={shot.fade_colour ?? "#000000"}
          onSet={(colour) =>
            shot.fade_in
              ? fade("fade_in", shot.fade_in, undefined, colour)
              : fade("fade_out", shot.fade_out ?? 0, undefined, colour)
          }
        />
      )}
    </Section>
  );
}
