import { useQuery } from "@tanstack/react-query";
import { glassAt } from "../../api/queries";
import type { Camera } from "../../api/types";
import { useDocument } from "../../store/document";
import { useMoment } from "../../store/moment";
import { samplesOf } from "../../store/samples";
import { send } from "../../store/sending";
import { complain } from "../../store/view";
import { NumberField } from "../../ui/number-field";
import { useSettled } from "../../ui/settled";
import { Section } from "../section";

/** How near and how far the picture is drawn, and what that leaves out. */
export function ClippingSection({ camera }: { camera: Camera }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const stage = useSettled(useMoment((s) => s.stage));
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({ ...glassAt(id, camera.id, stage, revision), enabled: !playing });
  const set = (what: object, seen?: number) =>
    send({ kind: "camera.glass", camera: camera.id, ...what }, seen);
  const clipped = data?.clipped;
  const told = [
    clipped?.beyond.length ? `Left out, beyond the far distance: ${some(clipped.beyond)}.` : "",
    clipped?.partly_beyond.length ? `Cut off by the far distance: ${some(clipped.partly_beyond)}.` : "",
    clipped?.nearer.length ? `Cut off by the near distance: ${some(clipped.nearer)}.` : "",
  ].filter(Boolean);
  const better = clipped?.suggested_far_m;
  const facts = samplesOf(camera.id)?.facts;
  return (
    <Section
      title="Clipping"
      folded={
        told.length ? (
          <b className="text-brick">Something is cut off</b>
        ) : (
          `${camera.near_m} m to ${camera.far_m} m`
        )
      }
    >
      <div className="grid grid-cols-2 gap-x-2">
        <NumberField
          label="Near"
          compact
          unit="m"
          value={camera.near_m}
          disabled={camera.locked}
          step={0.01}
          onSet={(near_m, seen) => set({ near_m }, seen)}
        />
        <NumberField
          label="Far"
          compact
          unit="m"
          value={camera.far_m}
          digits={0}
          step={1}
          disabled={camera.locked}
          onSet={(far_m, seen) => set({ far_m }, seen)}
        />
      </div>
      {told.map((what) => (
        <p
          key={what}
          className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick"
          data-testid="clipped"
        >
          {what}
        </p>
      ))}
      {better && better !== camera.far_m && (
        <button
          type="button"
          className="self-start text-xs text-slate underline"
          disabled={camera.locked}
          onClick={async () => complain(await set({ far_m: better }))}
        >
          The set needs {better} m: use it
        </button>
      )}
      <NumberField
        label="Circle of confusion"
        unit="mm"
        value={camera.confusion_mm ?? (facts?.confusion_mm as number) ?? 0}
        digits={3}
        step={0.001}
        disabled={camera.locked}
        onSet={(confusion_mm, seen) => set({ confusion_mm }, seen)}
      />
      {camera.confusion_mm !== null && (
        <button
          type="button"
          className="self-start text-xs text-slate underline"
          disabled={camera.locked}
          onClick={async () => complain(await set({ own_confusion: true }))}
        >
          Use the film back's own again
        </button>
      )}
    </Section>
  );
}

const some = (names: string[]) =>
  names.length > 4 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", ");
