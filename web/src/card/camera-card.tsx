import { Copy, Diamond, Eye, EyeOff, Lock, LockOpen, Trash2 } from "lucide-react";
import type { Camera, Command, Pose } from "../api/types";
import { duplicateSelected, removeSelected } from "../desk/verbs";
import { endTry, send, useDocument } from "../store/document";
import { cameraRow, keyed, leavePose, poseOf, setKey, tryPose, useLoose } from "../store/loose";
import { useMoment } from "../store/moment";
import { complain, lookThrough, scrubStage, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { ClippingSection } from "./glass/clipping-section";
import { ExposureSection } from "./glass/exposure-section";
import { FocusSection } from "./glass/focus-section";
import { LensSection } from "./glass/lens-section";
import { Section } from "./section";

const PLACES: [keyof Pose, string, string, number, number][] = [
  ["x", "Across", "m", 0.01, 2],
  ["y", "Height", "m", 0.01, 2],
  ["z", "Along", "m", 0.01, 2],
  ["pan", "Pan", "°", 0.1, 1],
  ["tilt", "Tilt", "°", 0.1, 1],
  ["roll", "Roll", "°", 0.1, 1],
];

const KEY_KINDS = [
  { value: "held", label: "held" },
  { value: "straight", label: "straight" },
  { value: "eased", label: "eased" },
] as const;

/** Everything about one camera, in the order light and motion pass through it. */
export function CameraCard({ camera }: { camera: Camera }) {
  const stage = useMoment((s) => s.stage);
  useDocument((s) => s.baked);
  useLoose((s) => s.loose);
  const seen = useView((s) => typeof s.through === "object" && s.through.camera === camera.id);
  const row = cameraRow(camera.id, stage);
  const pose = poseOf(camera.id, stage);
  const set = (command: Omit<Extract<Command, { kind: "camera.set" }>, "kind" | "camera">, at?: number) =>
    send({ kind: "camera.set", camera: camera.id, ...command }, at);
  const place = async (next: Pose, at: number) => {
    endTry();
    if (keyed(camera)) {
      await leavePose(camera.id, next);
      return null;
    }
    return send({ kind: "camera.place", camera: camera.id, pose: next }, at);
  };
  const here = camera.x.keys.some((k) => k.frame === stage);
  return (
    <div data-testid="camera-card">
      <div className="flex items-start gap-2 border-b border-line px-3 py-2.5">
        <Letter letter={camera.letter} size={34} />
        <div className="min-w-0 flex-1">
          <TextField
            label="Sees"
            value={camera.name}
            disabled={camera.locked}
            onSet={(name, at) => set({ name }, at)}
          />
        </div>
      </div>
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
        <Button tip="Delete" hint="Delete" disabled={camera.locked} onClick={() => removeSelected()}>
          <Trash2 size={14} />
        </Button>
      </div>
      <LensSection camera={camera} row={row} />
      <FocusSection camera={camera} row={row} />
      <Section
        title="Place and direction"
        side={
          <Button
            tone={here ? "plain" : "ochre"}
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
            PLACES.map(([name, label, unit, step, digits]) => (
              <NumberField
                key={name}
                label={label}
                compact
                value={pose[name]}
                unit={unit}
                step={step}
                digits={digits}
                disabled={camera.locked}
                onTry={(value) => tryPose(camera.id, { ...pose, [name]: value })}
                onSet={(value, at) => place({ ...pose, [name]: value }, at)}
              />
            ))}
        </div>
        {pose && <p className="text-xs text-faint">{side(pose.pan)}</p>}
        {pose && Math.abs(pose.roll) > 0.05 && (
          <button
            type="button"
            className="self-start text-xs text-brick underline"
            onClick={async () => {
              const problem = await place({ ...pose, roll: 0 }, useDocument.getState().revision);
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
  if (camera.x.keys.length === 0) {
    return (
      <Section title="Keys">
        <p className="text-sm text-faint">
          None: it stands still. Press K to set one here, then move on and set another.
        </p>
      </Section>
    );
  }
  const shape = async (frame: number, which: "before" | "after", kind: string) =>
    complain(await send({ kind: "keys.shape", thing: camera.id, frame, [which]: kind } as Command));
  return (
    <Section title="Keys">
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-xs text-faint">
            <th className="font-normal">Frame</th>
            <th className="font-normal">Comes in</th>
            <th className="font-normal">Goes out</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {camera.x.keys.map((key) => (
            <tr key={key.frame} className={key.frame === stage ? "bg-ochre/15" : ""}>
              <td>
                <button
                  type="button"
                  className="font-semibold text-ochre underline"
                  onClick={() => scrubStage(key.frame)}
                >
                  {key.frame}
                </button>
              </td>
              {(["before", "after"] as const).map((which) => (
                <td key={which}>
                  <select
                    aria-label={`${which === "before" ? "Comes in" : "Goes out"} at ${key.frame}`}
                    className="field min-h-6! w-22 px-1!"
                    value={key[which]}
                    disabled={camera.locked}
                    onChange={(e) => shape(key.frame, which, e.target.value)}
                  >
                    {KEY_KINDS.filter((k) => which === "after" || k.value !== "held").map((k) => (
                      <option key={k.value}>{k.label}</option>
                    ))}
                  </select>
                </td>
              ))}
              <td>
                <button
                  type="button"
                  aria-label={`Delete the key at ${key.frame}`}
                  title="Delete this key"
                  disabled={camera.locked}
                  onClick={async () =>
                    complain(await send({ kind: "keys.delete", thing: camera.id, frame: key.frame }))
                  }
                >
                  <Trash2 size={13} />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}
