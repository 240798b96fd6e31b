import { useState } from "react";
import type { Schemas } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { OneOf } from "../ui/one-of";
import { Tick } from "../ui/tick";
import { bringCameras } from "../verbs/bringing";

type Track = Schemas["CameraTrack"];

/** How long a lens is over a move: "35 mm", or "35 to 50 mm". */
function lensOf({ focal }: Track): string {
  const [low, high] = [Math.min(...focal), Math.max(...focal)];
  return high - low < 0.05 ? `${low.toFixed(1)} mm` : `${low.toFixed(1)} to ${high.toFixed(1)} mm`;
}

/** Cameras that were read: which of them, and how their moves become keys. */
export function CamerasRead({ file, tracks, onPut }: { file: Incoming; tracks: Track[]; onPut: () => void }) {
  const [left, setLeft] = useState<number[]>([]);
  const [few, setFew] = useState(false);
  const chosen = tracks.filter((_, i) => !left.includes(i));
  const put = async () => {
    if (!(await bringCameras(chosen, few))) return;
    setIncoming(file.id, { put: true });
    if (useBringing.getState().files.every((one) => one.put)) onPut();
  };
  return (
    <div className="flex flex-col gap-3" data-testid="cameras-read">
      <p className="text-sm">
        <b>{count(tracks.length, "camera")}</b>, as long as {count(tracks[0].x.length, "frame")}
      </p>
      <ul className="max-h-80 overflow-auto rounded border border-line p-2" aria-label="Cameras of the file">
        {tracks.map((one, i) => (
          <li key={`${i}:${one.name}`} className="flex items-center gap-3 py-0.5 text-sm">
            <Tick
              on={!left.includes(i)}
              onSet={(on) => setLeft(on ? left.filter((k) => k !== i) : [...left, i])}
            >
              {one.name}
            </Tick>
            <span className="text-xs text-faint">
              {lensOf(one)} on {one.back.width_mm} × {one.back.height_mm} mm
            </span>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-2 border-t border-line pt-3">
        <OneOf
          label="How their moves become keys"
          value={few ? "few" : "all"}
          options={[
            { value: "all", label: "A key on every frame", tip: "Exactly as the file has them" },
            { value: "few", label: "Few keys", tip: "Each number within 5 mm, 0.05° and 0.1 mm of lens" },
          ]}
          onSet={(how) => setFew(how === "few")}
        />
        <span className="flex-1" />
        <Button tone="main" disabled={!chosen.length} onClick={put}>
          Add {count(chosen.length, "camera")}
        </Button>
      </div>
    </div>
  );
}
