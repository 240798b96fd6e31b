import { CircleDot, Diamond, EyeOff, Lock } from "lucide-react";
import { operate } from "../operating/operate";
import { useOperate } from "../operating/state";
import { useDocument } from "../store/document";
import { keysOf } from "../store/keys";
import { useMoment } from "../store/moment";
import { cameraColumns, useVersion } from "../store/samples";
import { useSeenCamera } from "../store/seen";
import { cameraRow, useUnsaved } from "../store/unsaved";
import { useView } from "../store/view";
import { focusInForce, focusName, metres } from "../store/words";
import { Letter } from "../ui/badge";
import { count } from "../ui/count";
import { MoveButton } from "./move-button";
import { NotesNow } from "./notes-now";
import { ShotSize } from "./shot-size";

/** Shot, lens and state of what is seen, to be read in two seconds. */
export function Caption() {
  const through = useView((s) => s.through);
  const camera = useSeenCamera();
  const stage = useMoment((s) => s.stage);
  const shot = useMoment((s) => s.shot);
  const scene = useDocument((s) => s.shown);
  useVersion(camera?.id ?? "");
  useUnsaved((s) => s.unsaved);
  const row = camera ? cameraRow(camera.id, stage) : null;
  const operated = useOperate((s) => s.thing !== null && s.thing.id === camera?.id);
  const all = camera ? keysOf(camera) : [];
  const key = all.some((k) => k.frame === stage);
  const keys = all.length;
  const carried = camera?.layers.some((layer) => !layer.off);
  const at = cameraColumns();
  const focused = camera && scene ? focusName(scene, focusInForce(camera, stage)) : "";
  const shown = through === "cut" && scene && shot >= 0 ? scene.shots[shot] : null;
  return (
    <div className="@container flex h-10 items-center gap-3 border-t border-line px-3" data-testid="caption">
      {through === "rover" && (
        <>
          <b>Rover</b>
          <span className="text-sm text-faint">looks freely and never records</span>
        </>
      )}
      {through !== "rover" && !camera && <b>{shown ? `${shown.name} · slate, no camera yet` : "Gap"}</b>}
      {camera && row && (
        <>
          {shown && <b className="text-base">{shown.name}</b>}
          <Letter letter={camera.letter} size={24} />
          <b className="truncate text-base" title={camera.name}>
            {camera.name}
          </b>
          <span className="text-lg font-semibold whitespace-nowrap">
            {Number(row[at.focal_mm].toFixed(1))} mm
          </span>
          <span className="text-base font-semibold whitespace-nowrap">
            f/{Number(row[at.aperture]?.toFixed(1))}
          </span>
          <span className="min-w-0 truncate text-sm" title={`Focused on ${focused}`}>
            {metres(row[at.focus_per_m])} <span className="text-faint">{focused}</span>
          </span>
          {camera.locked && <Lock size={15} aria-label="Locked" />}
          {camera.hidden && <EyeOff size={15} aria-label="Hidden on the stage" />}
          <span className="flex-1" />
          <NotesNow camera={camera} />
          <ShotSize camera={camera} />
          {through !== "cut" && <MoveButton camera={camera} />}
          {through !== "cut" && (
            <button
              type="button"
              className={`flex items-center gap-1 text-sm whitespace-nowrap hover:underline disabled:no-underline ${operated ? "font-semibold" : ""}`}
              title="Work the camera by hand while it plays, and record it  (Shift O)"
              aria-label="Operate"
              aria-pressed={operated}
              disabled={camera.locked}
              onClick={() => operate({ table: "cameras", id: camera.id })}
            >
              <CircleDot size={14} className="text-brick" />
              <span className="hidden @3xl:inline">Operate</span>
            </button>
          )}
          <span
            className={`flex items-center gap-1 text-sm whitespace-nowrap ${key ? "font-semibold text-ochre" : "text-faint"}`}
          >
            {keys > 0 && <Diamond size={13} fill={key ? "currentColor" : "none"} />}
            {key ? `Key at ${stage}` : keys > 0 ? count(keys, "key") : carried ? "Carried" : "Still"}
          </span>
        </>
      )}
    </div>
  );
}
