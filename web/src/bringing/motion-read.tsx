import { useMemo, useState } from "react";
import type { BroughtFile } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Tick } from "../ui/tick";
import { giveMotion } from "../verbs/bringing";
import { correct, JointTable } from "./joint-table";
import { MotionPreview } from "./motion-preview";

/** A motion that was read: how long it is, which joint is which, and who is to do it. */
export function MotionRead({
  file,
  there,
  onPut,
}: {
  file: Incoming;
  there: BroughtFile;
  onPut: () => void;
}) {
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const stage = useMoment((s) => s.stage);
  const [who, setWho] = useState(() => {
    const { kind, ids } = useView.getState();
    return (kind === "figure" ? ids[0] : undefined) ?? figures[0]?.id ?? "";
  });
  const [goes, setGoes] = useState(true);
  const [joint, setJoint] = useState<string | null>(null);
  const beside = file.reading?.beside;
  const known = useMemo(() => Object.values(there.joints).map((one) => there.names.indexOf(one)), [there]);
  const give = async () => {
    if (!(await giveMotion(there, who, goes))) return;
    setIncoming(file.id, { put: true });
    if (useBringing.getState().files.every((one) => one.put)) onPut();
  };
  return (
    <div className="flex flex-col gap-3" data-testid="motion-read">
      <p className="text-sm" data-testid="measures">
        <b>{there.seconds.toFixed(2)} s of motion</b>, recorded at {Number(there.rate.toFixed(3))} frames a
        second · {there.names.length} joints
      </p>
      {beside && (
        <MotionPreview
          key={file.reading?.id}
          beside={beside}
          known={known}
          chosen={joint ? there.names.indexOf(there.joints[joint]) : -1}
          onPick={(picked) => {
            const name = there.names[picked];
            const whose = Object.keys(there.joints).find((ours) => there.joints[ours] === name);
            if (joint && whose !== joint) correct(file, joint, name);
            else if (whose) setJoint(whose);
          }}
        />
      )}
      <JointTable file={file} there={there} low={!!beside} chosen={joint} onChoose={setJoint} />
      {there.left_out.map((one) => (
        <p key={one} className="text-sm text-faint">
          {one}
        </p>
      ))}
      <div className="flex flex-wrap items-center justify-end gap-3 border-t border-line pt-3">
        <Tick on={goes} onSet={setGoes}>
          Goes where it was recorded going
        </Tick>
        <span className="flex-1" />
        <Button onClick={onPut} tip="It stays in the library, for any figure">
          Keep in the library
        </Button>
        {figures.length > 1 && (
          <div className="w-44">
            <Choice
              label="Who"
              value={who}
              options={figures.map(({ id, name }) => ({ value: id, label: name }))}
              onSet={setWho}
            />
          </div>
        )}
        <Button
          tone="main"
          disabled={!who}
          tip={who ? `From frame ${stage} on` : "Put a figure on the stage first"}
          onClick={give}
        >
          Give to {figures.find((one) => one.id === who)?.name ?? "a figure"} at {stage}
        </Button>
      </div>
    </div>
  );
}
