import type { Camera } from "../../api/types";
import { useDocument } from "../../store/document";
import { usePreferences } from "../../store/preferences";
import { cameraColumns } from "../../store/samples";
import { send } from "../../store/sending";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { Section } from "../section";
import { GlassField } from "./glass-field";

const HOLDS = [
  { value: "iso", label: "as bright: ISO gives" },
  { value: "shutter", label: "as bright: shutter gives" },
  { value: "exposure", label: "as bright: offset gives" },
  { value: "nothing", label: "brighter or darker" },
] as const;

/** A third of a stop, as a ratio of f-numbers: what lens barrels click at. */
const THIRD = 2 ** (1 / 6);

/** The stop, what the picture does when it changes, and what that has come to. */
export function StopField({ camera, row }: { camera: Camera; row: Float32Array }) {
  const hold = usePreferences((s) => s.hold);
  const at = cameraColumns();
  const brighter = Math.log2(row[at.gain] || 1);
  const keyed = camera.aperture.keys.length > 0;
  return (
    <>
      <GlassField
        camera={camera}
        name="aperture"
        label="Stop"
        front="f/"
        value={row[at.aperture]}
        digits={1}
        ratio={THIRD}
      />
      {keyed ? (
        <p className="text-xs text-faint">The stop has keys: the picture gets brighter and darker with it.</p>
      ) : (
        <Choice
          label="Picture stays"
          value={hold}
          options={HOLDS}
          disabled={camera.locked}
          onSet={(next) => usePreferences.setState({ hold: next })}
        />
      )}
      {Math.abs(brighter) >= 0.05 && (
        <p className="text-xs text-faint" data-testid="brightness">
          Now {Math.abs(brighter).toFixed(1)} stops {brighter > 0 ? "brighter" : "darker"} than the stage is
          lit.
        </p>
      )}
    </>
  );
}

/** Shutter, sensitivity and offset, and the exposure they come to with the stop. */
export function ExposureSection({ camera, row }: { camera: Camera; row: Float32Array | null }) {
  const light = useDocument((s) => s.shown?.surround.light_ev) ?? 0;
  const at = cameraColumns();
  const set = (what: object, seen?: number) =>
    send({ kind: "camera.glass", camera: camera.id, ...what }, seen);
  const brighter = Math.log2(row?.[at.gain] ?? 1);
  const told = (
    <span title={`The stage is lit for EV ${light.toFixed(1)}`} data-testid="ev">
      EV {row?.[at.exposure_ev]?.toFixed(1)} · picture{" "}
      {Math.abs(brighter) < 0.05
        ? "as lit"
        : `${brighter > 0 ? "+" : "−"}${Math.abs(brighter).toFixed(1)} stops`}
    </span>
  );
  return (
    <Section title="Exposure" folded={told} side={<span className="text-xs text-faint">{told}</span>}>
      <div className="grid grid-cols-2 gap-x-2">
        <NumberField
          label="Shutter"
          compact
          unit="°"
          value={camera.shutter_deg}
          digits={1}
          step={1}
          disabled={camera.locked}
          onSet={(shutter_deg, seen) => set({ shutter_deg }, seen)}
        />
        <NumberField
          label="ISO"
          compact
          value={camera.iso}
          digits={0}
          step={5}
          disabled={camera.locked}
          onSet={(iso, seen) => set({ iso }, seen)}
        />
      </div>
      <GlassField
        camera={camera}
        name="exposure"
        label="Offset"
        unit="stops"
        value={row?.[at.offset_ev] ?? camera.exposure.rest}
        digits={2}
        step={0.05}
      />
    </Section>
  );
}
