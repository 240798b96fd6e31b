import { create } from "zustand";
import type { Camera } from "../../api/types";
import { useDocument } from "../../store/document";
import { cameraColumns } from "../../store/samples";
import { send } from "../../store/sending";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { Section } from "../section";
import { GlassField } from "./glass-field";

const HOLDS = [
  { value: "nothing", label: "the picture" },
  { value: "shutter", label: "the shutter" },
  { value: "iso", label: "the ISO" },
  { value: "exposure", label: "the offset" },
] as const;

/** A third of a stop, as a ratio of f-numbers: what lens barrels click at. */
const THIRD = 2 ** (1 / 6);

/** The artist's choice, the same for every camera. */
const useHold = create<{ hold: (typeof HOLDS)[number]["value"] }>(() => ({ hold: "nothing" }));

/** The stop, and what gives when it changes so that the exposure holds. */
export function StopField({ camera, row }: { camera: Camera; row: Float32Array }) {
  const hold = useHold((s) => s.hold);
  const stop = row[cameraColumns().aperture];
  if (camera.aperture.keys.length > 0 || hold === "nothing")
    return (
      <GlassField
        camera={camera}
        name="aperture"
        label="Stop"
        front="f/"
        value={stop}
        digits={1}
        ratio={THIRD}
      />
    );
  const set = (aperture: number, force: boolean, seen?: number) =>
    send({ kind: "camera.glass", camera: camera.id, aperture, hold, force }, seen);
  return (
    <NumberField
      label="Stop"
      front="f/"
      value={stop}
      digits={1}
      ratio={THIRD}
      disabled={camera.locked}
      onSet={(aperture, seen) => set(aperture, false, seen)}
      remedy={(problem, aperture) =>
        problem.can_force ? { label: "Force it", act: () => set(aperture, true) } : null
      }
    />
  );
}

/** Shutter, sensitivity and offset, and the exposure they come to with the stop. */
export function ExposureSection({ camera, row }: { camera: Camera; row: Float32Array | null }) {
  const light = useDocument((s) => s.shown?.surround.light_ev) ?? 0;
  const hold = useHold((s) => s.hold);
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
      <Choice
        label="With the stop gives"
        value={hold}
        options={HOLDS}
        disabled={camera.locked || camera.aperture.keys.length > 0}
        onSet={(next) => useHold.setState({ hold: next })}
      />
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
