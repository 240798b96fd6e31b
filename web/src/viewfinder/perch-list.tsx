import { Camera as CameraIcon, Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useEffect, useRef } from "react";
import type { Perch } from "../api/types";
import { portray } from "../picture/renderer/portraits";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { useVersion } from "../store/samples";
import { cameraSeen, select, useView } from "../store/view";
import { Button } from "../ui/button";
import { cameraFromPerch, goToPerch, perchAngle, perchPose, savePerch } from "../verbs/perches";

/** Saved views by group, each with a small picture of what is seen from there now. */
export function PerchList() {
  const perches = useDocument((s) => s.scene?.perches) ?? [];
  const through = useView((s) => s.through);
  const camera = cameraSeen();
  void through;
  const withLens = usePreferences((s) => s.perchLens);
  const groups = [...new Set(perches.map((p) => p.group))].sort();
  return (
    <div className="flex w-72 flex-col gap-1.5 p-1.5" data-testid="perch-list">
      <Button onClick={() => void savePerch()}>
        <Plus size={14} /> Save this view as a perch
      </Button>
      {camera && (
        <label className="flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            checked={withLens}
            onChange={(e) => usePreferences.setState({ perchLens: e.target.checked })}
          />
          with the camera's lens and focus
        </label>
      )}
      {perches.length === 0 && (
        <p className="text-xs text-faint">
          A perch keeps a view. Cameras go to it, and fly from one to the next.
        </p>
      )}
      <div className="flex max-h-96 flex-col gap-1 overflow-y-auto">
        {groups.map((group) => (
          <div key={group} className="flex flex-col gap-1">
            {(group || groups.length > 1) && <b className="text-xs text-faint">{group || "In no group"}</b>}
            {perches
              .filter((p) => p.group === group)
              .map((perch) => (
                <PerchRow
                  key={perch.id}
                  perch={perch}
                  goes={camera ? "Put the camera here" : "Look from here"}
                />
              ))}
          </div>
        ))}
      </div>
    </div>
  );
}

function PerchRow({ perch, goes }: { perch: Perch; goes: string }) {
  const sheet = useRef<HTMLCanvasElement>(null);
  const stage = useMoment((s) => (s.playing ? null : s.stage));
  const version = useVersion(perch.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another moment or place is another picture
  useEffect(() => {
    const pose = perchPose(perch.id);
    if (sheet.current && pose && stage !== null) portray(sheet.current, pose, perchAngle(perch.id));
  }, [perch, stage, version]);
  return (
    <div className="flex items-center gap-2 rounded-[3px] border border-line bg-sheet p-1 hover:bg-well">
      <button
        type="button"
        className="flex min-w-0 flex-1 items-center gap-2 text-left"
        title={goes}
        onClick={() => void goToPerch(perch)}
      >
        <canvas ref={sheet} width={96} height={54} className="h-[54px] w-24 shrink-0 rounded-[2px] bg-mat" />
        <span className="min-w-0">
          <b className="block truncate text-sm">{perch.name}</b>
          <span className="block truncate text-xs text-faint">
            {[
              perch.focal && `${perch.focal} mm`,
              perch.focus_m && `sharp at ${perch.focus_m} m`,
              perch.rides && "rides",
            ]
              .filter(Boolean)
              .join(" · ") || goes}
          </span>
        </span>
      </button>
      <span className="flex flex-col gap-1">
        {/* The list is out of the way of the new camera's picture and card. */}
        <Popover.Close asChild>
          <button
            type="button"
            aria-label={`Make a camera from ${perch.name}`}
            title="Make a camera from here"
            onClick={() => void cameraFromPerch(perch)}
          >
            <CameraIcon size={14} />
          </button>
        </Popover.Close>
        <button
          type="button"
          className="text-xs text-slate underline"
          aria-label={`Card of ${perch.name}`}
          title="Its card: name, group, place, what it rides on"
          onClick={() => select("perch", [perch.id])}
        >
          card
        </button>
      </span>
    </div>
  );
}
