import { Camera as CameraIcon, Lock, LockOpen, Trash2 } from "lucide-react";
import { catalogue } from "../api/catalogue";
import { type Perch, POSE } from "../api/types";
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
import { subjectsOf } from "../verbs/subjects";
import { removeSelected } from "../verbs/things";
import { fieldOf } from "./channel-field";
import { Section } from "./section";

/** A saved view: what it is called, where it is now, and what it rides on. */
export function PerchCard({ perch }: { perch: Perch }) {
  const stage = useMoment((s) => s.stage);
  const scene = useDocument((s) => s.scene);
  useVersion(perch.id);
  const pose = perchPose(perch.id);
  const set = (more: object, at?: number) =>
    send({ kind: "perch.set", perch: perch.id, frame: stage, ...more }, at);
  const carriers = subjectsOf(scene, "root");
  const specs = catalogue.channels.camera;
  const on = perch.rides;
  const rides = on?.kind === "figure" ? on.figure : on?.kind === "mover" ? on.mover : on ? "other" : "";
  return (
    <div data-testid="perch-card">
      <div className="flex flex-col gap-1.5 border-b border-line px-3 py-2.5">
        <TextField names label="Perch" value={perch.name} onSet={(name, at) => set({ name }, at)} />
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
              {...fieldOf(specs, name)}
              value={pose[name]}
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
      <Section title="Lens and focus">
        <NumberField
          {...fieldOf(specs, "focal")}
          value={perch.focal ?? 35}
          blank={perch.focal === null}
          onSet={(focal, at) => set({ focal }, at)}
        />
        <NumberField
          label="Focus at"
          unit="m"
          digits={2}
          step={0.05}
          value={perch.focus_m ?? 3}
          blank={perch.focus_m === null}
          onSet={(focus_m, at) => set({ focus_m }, at)}
        />
        {perch.focal || perch.focus_m ? (
          <Button
            tip="A camera that goes there then keeps its own lens and focus"
            onClick={async () => complain(await set({ bare: true }))}
          >
            Keep the view alone
          </Button>
        ) : (
          <p className="text-xs text-faint">None are kept: a camera that goes there keeps its own.</p>
        )}
      </Section>
    </div>
  );
}
