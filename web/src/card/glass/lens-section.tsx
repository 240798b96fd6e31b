import { ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";
import type { Camera } from "../../api/types";
import { useDocument } from "../../store/document";
import { cameraColumns, samplesOf, useVersion } from "../../store/samples";
import { complain, useView } from "../../store/view";
import { Button } from "../../ui/button";
import { mountLens, stepLens, toggleCompare } from "../../verbs/glass";
import { Section } from "../section";
import { FilmBack } from "./film-back";
import { GlassField } from "./glass-field";

const STEP_KEYS = { place: { [-1]: "F3", 1: "F4" }, size: { [-1]: "Shift F3", 1: "Shift F4" } } as const;

/** The lens on the camera, its focal length and what it sees, and the film back behind it. */
export function LensSection({ camera, row }: { camera: Camera; row: Float32Array | null }) {
  const lenses = useDocument((s) => s.shown?.lenses) ?? [];
  const comparing = useView((s) => s.comparing !== null);
  const [keep, setKeep] = useState<"place" | "size">("place");
  useVersion(camera.id);
  const at = cameraColumns();
  const forced = (samplesOf(camera.id)?.facts.forced as string[] | undefined) ?? [];
  return (
    <Section
      title="Lens"
      side={
        <Button
          tip="Compare lenses at the same size of the figure"
          hint="L"
          on={comparing}
          onClick={toggleCompare}
        >
          Compare
        </Button>
      }
    >
      <div className="flex items-center gap-1">
        <select
          aria-label="Lens of the kit"
          className="field min-w-0 flex-1"
          value={camera.mounted ?? ""}
          disabled={camera.locked}
          onKeyDown={(e) => e.stopPropagation()}
          onChange={async (e) => complain(await mountLens(camera.id, e.target.value || null, keep))}
        >
          <option value="">Any lens, no limits</option>
          {lenses.map((lens) => (
            <option key={lens.id} value={lens.id}>
              {lens.name} · f/{lens.widest}
            </option>
          ))}
        </select>
        {([-1, 1] as const).map((step) => (
          <Button
            key={step}
            tip={`Next ${step < 0 ? "shorter" : "longer"} lens, ${keep === "size" ? "keeping the figure's size" : "from the same place"}`}
            hint={STEP_KEYS[keep][step]}
            disabled={camera.locked}
            className="px-1!"
            onClick={() => stepLens(step, keep)}
          >
            {step < 0 ? <ChevronLeft size={15} /> : <ChevronRight size={15} />}
          </Button>
        ))}
      </div>
      <fieldset className="-mt-0.5 flex items-center gap-1 text-xs text-faint">
        <span className="flex-1">Another lens keeps</span>
        {(["place", "size"] as const).map((what) => (
          <button
            type="button"
            key={what}
            aria-pressed={keep === what}
            title={
              what === "place" ? "The frame changes" : "The camera moves along its axis; perspective changes"
            }
            className={`rounded-[3px] border px-1.5 py-0.5 ${keep === what ? "border-slate bg-slate-wash font-semibold text-ink" : "border-line bg-sheet"}`}
            onClick={() => setKeep(what)}
          >
            the {what}
          </button>
        ))}
      </fieldset>
      <GlassField
        camera={camera}
        name="focal"
        label="Focal length"
        value={row?.[at.focal_mm] ?? camera.focal.rest}
        unit="mm"
        digits={1}
        step={0.5}
      />
      {row && (
        <p className="text-xs text-faint" title="Fields of view of the delivery frame">
          {row[at.horizontal_deg].toFixed(2)}° across · {row[at.vertical_deg].toFixed(2)}° upright ·{" "}
          {row[at.diagonal_deg].toFixed(2)}° diagonal
        </p>
      )}
      {forced.map((what) => (
        <p key={what} className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          Forced: {what}.
        </p>
      ))}
      <FilmBack camera={camera} />
    </Section>
  );
}
