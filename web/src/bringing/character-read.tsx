import { useState } from "react";
import type { BroughtFile } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { useDocument } from "../store/document";
import { useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { count } from "../ui/count";
import { Menu, MenuItem } from "../ui/menu";
import { OneOf } from "../ui/one-of";
import { giveCharacter, keepPicture, readAgain, readClip } from "../verbs/bringing";
import { JointTable } from "./joint-table";
import { POSES, type PoseName, Preview } from "./preview";
import { UnitChoice } from "./unit-choice";

/** A character that was read: beside the lay figure in one pose, its joints, and whose body it becomes. */
export function CharacterRead({
  file,
  there,
  onPut,
}: {
  file: Incoming;
  there: BroughtFile;
  onPut: () => void;
}) {
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const [pose, setPose] = useState<PoseName>("hanging");
  const [who, setWho] = useState(() => {
    const { kind, ids } = useView.getState();
    return (kind === "figure" ? ids[0] : undefined) ?? figures[0]?.id ?? "";
  });
  const give = async (figure: string | null) => {
    if (!(await giveCharacter(there, figure))) return;
    setIncoming(file.id, { put: true });
    if (useBringing.getState().files.every((one) => one.put)) onPut();
  };
  const why = there.told ? undefined : "Choose the unit first";
  return (
    <div className="flex flex-col gap-2.5" data-testid="character-read">
      <Preview
        file={there.key}
        tall={there.height_m}
        pose={pose}
        onPicture={(picture) => void keepPicture(there, picture)}
      />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <p className="text-sm" data-testid="measures">
          <b>{there.height_m.toFixed(2)} m tall</b>, {count(there.names.length, "joint")} ·{" "}
          {there.triangles.toLocaleString("en-GB")} triangles
        </p>
        <span className="flex-1" />
        <OneOf
          label="The pose in which both are shown"
          value={pose}
          options={POSES.map(({ value, label }) => ({ value, label }))}
          onSet={setPose}
        />
      </div>
      <div className="grid grid-cols-2 items-start gap-x-6">
        <UnitChoice file={file} there={there} />
        {there.clips.length > 0 && (
          <div className="flex flex-wrap items-center gap-1.5 text-sm">
            <span className="text-faint">Its clips, as motion</span>
            {there.clips.slice(0, 12).map(({ name }) => (
              <Button key={name} tip="Read it as motion, for any figure" onClick={() => readClip(file, name)}>
                {name}
              </Button>
            ))}
          </div>
        )}
      </div>
      <JointTable file={file} there={there} low />
      {[...there.hints, ...there.left_out].map((one) => (
        <p key={one} className="text-sm text-faint">
          {one}
        </p>
      ))}
      <div className="flex flex-wrap items-center justify-end gap-2 border-t border-line pt-3">
        <Menu trigger={<Button>Other ways…</Button>}>
          <MenuItem note="It stays there, for any scene" onSelect={onPut}>
            Keep in the library
          </MenuItem>
          <MenuItem
            note="Its skeleton is left out"
            onSelect={() => void readAgain(file.id, { rigid: true, map: {} })}
          >
            Read it as a set or prop
          </MenuItem>
        </Menu>
        <span className="flex-1" />
        {figures.length > 1 && (
          <div className="w-40">
            <Choice
              label="Who"
              value={who}
              options={figures.map(({ id, name }) => ({ value: id, label: name }))}
              onSet={setWho}
            />
          </div>
        )}
        <Button
          disabled={!who || !there.told}
          tip={why ?? "Keeps the stature and everything that is acted"}
          onClick={() => give(who)}
        >
          Give to {figures.find((one) => one.id === who)?.name ?? "a figure"}
        </Button>
        <Button tone="main" disabled={!there.told} tip={why ?? "As a new figure"} onClick={() => give(null)}>
          Add to stage
        </Button>
      </div>
    </div>
  );
}
