import { Copy, Diamond, Eye, EyeOff, Lock, LockOpen, Trash2 } from "lucide-react";
import { catalogue } from "../api/catalogue";
import { type Camera, type Does, POSE } from "../api/types";
import { useDocument } from "../store/document";
import { keysOf } from "../store/keys";
import { useMoment } from "../store/moment";
import { useVersion } from "../store/samples";
import { endTry, send } from "../store/sending";
import {
  cameraRow,
  keyed,
  leavePose,
  poseOf,
  setKey,
  type Touched,
  tryPose,
  useUnsaved,
} from "../store/unsaved";
import { complain, lookThrough, useView } from "../store/view";
import { useActionLine } from "../ui/action-line";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { deleteThings, duplicateSelected } from "../verbs/things";
import { fieldOf } from "./channel-field";
import { ClippingSection } from "./glass/clipping-section";
import { ExposureSection } from "./glass/exposure-section";
import { FocusSection } from "./glass/focus-section";
import { LensSection } from "./glass/lens-section";
import { KeyTable } from "./key-table";
import { RigSection } from "./rig/rig-section";
import { Section } from "./section";

/** Everything about one camera, in the order light and motion pass through it. */
export function CameraCard({ camera }: { camera: Camera }) {
  const stage = useMoment((s) => s.stage);
  useVersion(camera.id);
  const seen = useView((s) => typeof s.through === "object" && s.through.camera === camera.id);
  const specs = catalogue.channels.camera;
  const row = cameraRow(camera.id, stage);
  const pose = poseOf(camera.id, stage);
  const set = (command: Omit<Does<"camera.set">, "kind" | "camera">, at?: number) =>
    send({ kind: "camera.set", camera: camera.id, ...command }, at);
  const place = async (touched: Touched, at: number) => {
    endTry();
    if (keyed(camera)) {
      await leavePose(camera.id, touched, at);
      return null;
    }
    return send({ kind: "thing.put", thing: camera.id, frame: stage, keep: "rest", ...touched }, at);
  };
  // A key is due where the camera was moved by hand and nothing keeps it.
  const due = useUnsaved((s) => s.unsaved?.camera === camera.id && s.unsaved.frame === stage);
  const here = keysOf(camera, POSE).some((k) => k.frame === stage);
  return (
    <div data-testid="camera-card">
      <div className="flex items-start gap-2 border-b border-line px-3 py-2.5">
        <Letter letter={camera.letter} size={34} />
        <div className="min-w-0 flex-1">
          <TextField
            label="Name  (F2)"
            names
            value={camera.name}
            disabled={camera.locked}
            onSet={(name, at) => set({ name }, at)}
          />
        </div>
      </div>
      <SideOfLine camera={camera.id} />
      <div className="flex flex-wrap gap-1 border-b border-line px-3 py-2">
        <Button on={seen} onClick={() => lookThrough({ camera: camera.id })}>
          Look through
        </Button>
        <Button
          tip={camera.locked ? "Unlock" : "Lock against changes"}
          on={camera.locked}
          onClick={async () => complain(await set({ locked: !camera.locked }))}
        >
          {camera.locked ? <Lock size={14} /> : <LockOpen size={14} />}
        </Button>
        <Button
          tip={camera.hidden ? "Show on the stage" : "Hide on the stage"}
          on={camera.hidden}
          onClick={async () => complain(await set({ hidden: !camera.hidden }))}
        >
          {camera.hidden ? <EyeOff size={14} /> : <Eye size={14} />}
        </Button>
        <Button tip="Duplicate with its keys" hint="Ctrl D" onClick={duplicateSelected}>
          <Copy size={14} />
        </Button>
        <Button tip="Delete" hint="Delete" onClick={() => void deleteThings([camera.id])}>
          <Trash2 size={14} />
        </Button>
      </div>
      <RigSection camera={camera} />
      <LensSection camera={camera} row={row} />
      <FocusSection camera={camera} row={row} />
      <Section
        title="Place and direction"
        side={
          <Button
            tone={due ? "ochre" : "plain"}
            tip={here ? "Set the key at this frame again" : "Set a key on place and direction at this frame"}
            hint="K"
            disabled={camera.locked}
            onClick={() => setKey(camera.id)}
          >
            <Diamond size={13} fill={here ? "currentColor" : "none"} /> {here ? `Key ${stage}` : "Set key"}
          </Button>
        }
      >
        <div className="grid grid-flow-col grid-cols-2 grid-rows-3 gap-x-2 gap-y-1.5">
          {pose &&
            POSE.map((name) => (
              <NumberField
                key={name}
                {...fieldOf(specs, name)}
                compact
                value={pose[name]}
                disabled={camera.locked}
                onTry={(value) => tryPose(camera.id, { [name]: value })}
                onSet={(value, at) => place({ [name]: value }, at)}
              />
            ))}
        </div>
        {pose && <p className="text-xs text-faint">{side(pose.pan)}</p>}
        {pose && Math.abs(pose.roll) > 0.05 && (
          <button
            type="button"
            className="self-start text-xs text-brick underline"
            onClick={async () => {
              const problem = await place({ roll: 0 }, useDocument.getState().revision);
              complain(problem);
            }}
          >
            Rolled {pose.roll.toFixed(1)}°: make it level
          </button>
        )}
      </Section>
      <Keys camera={camera} />
      <ExposureSection camera={camera} row={row} />
      <ClippingSection camera={camera} />
      <Section title="Group">
        <TextField
          label="Group (shown and hidden together)"
          placeholder="none"
          value={camera.group}
          disabled={camera.locked}
          onSet={(group, at) => set({ group }, at)}
        />
        {camera.group && (
          <Button
            on={camera.locked}
            tip="Locked cameras can't be moved, changed or deleted"
            onClick={async () =>
              complain(await send({ kind: "things.lock", group: camera.group, locked: !camera.locked }))
            }
          >
            {camera.locked ? <Lock size={13} /> : <LockOpen size={13} />}
            {camera.locked ? "Unlock" : "Lock"} all of “{camera.group}”
          </Button>
        )}
      </Section>
    </div>
  );
}

/** The pan as people say it. */
function side(pan: number): string {
  const wrapped = ((((pan + 180) % 360) + 360) % 360) - 180;
  if (Math.abs(wrapped) < 0.05) return "Looks straight up the plan";
  return `Looks ${Math.abs(wrapped).toFixed(1)}° ${wrapped > 0 ? "left" : "right"} of up the plan`;
}

function Keys({ camera }: { camera: Camera }) {
  const stage = useMoment((s) => s.stage);
  const keys = keysOf(camera, POSE);
  if (keys.length === 0) {
    return (
      <Section title="Keys">
        <p className="text-sm text-faint">
          No keys: the camera stands still. Press K to set one here, then another at a later frame.
        </p>
      </Section>
    );
  }
  return (
    <Section title="Keys">
      <KeyTable thing={camera.id} keys={keys} stage={stage} locked={camera.locked} />
    </Section>
  );
}

/** On which side of the line of action it stands now. */
function SideOfLine({ camera }: { camera: string }) {
  const line = useActionLine();
  const here = line?.cameras.find((one) => one.camera === camera);
  if (!line || !here) return null;
  const side = here.side === "on" ? "On" : `${here.side === "left" ? "Left" : "Right"} of`;
  return (
    <p className="border-b border-line px-3 py-1 text-xs text-faint" data-testid="side-of-line">
      {side} the line {line.said}
      {here.side !== "on" && `, ${Math.abs(here.off).toFixed(0)}°`}
      {here.crosses !== null && `; crosses it at ${here.crosses}`}
    </p>
  );
}
