import { Camera as CameraIcon, Lock, LockOpen, Trash2 } from "lucide-react";
import { type Perch, POSE, type Spot } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useVersion } from "../store/samples";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { cameraFromPerch, goToPerch, perchPose } from "../verbs/perches";
import { removeSelected } from "../verbs/things";
import { Section } from "./section";

const LABELS: Record<(typeof POSE)[number], [string, string]> = {
  x: ["Across", "m"],
  y: ["Height", "m"],
  z: ["Along", "m"],
  pan: ["Pan", "°"],
  tilt: ["Tilt", "°"],
  roll: ["Roll", "°"],
};

/** A saved view: what it is called, where it is now, and what it rides on. */
export function PerchCard({ perch }: { perch: Perch }) {
  const stage = useMoment((s) => s.stage);
  const scene = useDocument((s) => s.scene);
  useVersion(perch.id);
  const pose = perchPose(perch.id);
  const set = (more: object, at?: number) =>
    send({ kind: "perch.set", perch: perch.id, frame: stage, ...more }, at);
  const carriers: { value: string; label: string; spot: Spot }[] = [
    ...(scene?.figures ?? []).map((f) => ({
      value: f.id,
      label: f.name,
      spot: { kind: "figure" as const, figure: f.id, joint: "root" },
    })),
    ...(scene?.movers ?? []).map((m) => ({
      value: m.id,
      label: m.name,
      spot: { kind: "mover" as const, mover: m.id },
    })),
  ];
  const on = perch.rides;
  const rides = on?.kind === "figure" ? on.figure : on?.kind === "mover" ? on.mover : on ? "other" : "";
  return (
    <div data-testid="perch-card">
      <div className="flex flex-col gap-1.5 border-b border-line px-3 py-2.5">
        <TextField label="Perch" value={perch.name} onSet={(name, at) => set({ name }, at)} />
        <TextField label="Group" value={perch.group} onSet={(group, at) => set({ group }, at)} />
        <div className="flex gap-1">
          <Button
            tip="Go there: the camera that is looked through, else the rover"
            onClick={() => void goToPerch(perch)}
          >
            Go there
          </Button>
          <Button tip="Make a camera from here" onClick={() => void cameraFromPerch(perch)}>
            <CameraIcon size={14} /> Camera
          </Button>
          <Button
            tip={perch.locked ? "Unlock this perch" : "Lock this perch"}
            on={perch.locked}
            onClick={async () =>
              complain(await send({ kind: "things.lock", ids: [perch.id], locked: !perch.locked }))
            }
          >
            {perch.locked ? <Lock size={14} /> : <LockOpen size={14} />}
          </Button>
          <Button tip="Delete this perch" hint="Delete" onClick={() => removeSelected()}>
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      <Section title="Where it is">
        {pose &&
          POSE.map((name) => (
            <NumberField
              key={name}
              label={LABELS[name][0]}
              unit={LABELS[name][1]}
              value={pose[name]}
              digits={LABELS[name][1] === "m" ? 2 : 1}
              step={LABELS[name][1] === "m" ? 0.05 : 1}
              onSet={(v, at) => set({ [name]: v }, at)}
            />
          ))}
        <Choice
          label="Rides on"
          value={rides}
          options={[
            { value: "", label: "nothing: it stands" },
            ...carriers,
            ...(rides === "other" ? [{ value: "other", label: "something else" }] : []),
          ]}
          onSet={async (to) => {
            const spot = carriers.find((c) => c.value === to)?.spot;
            if (spot) complain(await set({ rides: spot }));
            else if (to === "") complain(await set({ stands: true }));
          }}
        />
      </Section>
      <Section title="Lens">
        <NumberField
          label="Focal length"
          unit="mm"
          value={perch.focal ?? 35}
          digits={1}
          step={1}
          onSet={(focal, at) => set({ focal }, at)}
        />
        {!perch.focal && (
          <p className="text-xs text-faint">None was kept: a camera that goes there keeps its own.</p>
        )}
      </Section>
    </div>
  );
}
