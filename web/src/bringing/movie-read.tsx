import { useState } from "react";
import type { BroughtFile } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { Button } from "../ui/button";
import { OneOf } from "../ui/one-of";
import { takeReference } from "../verbs/bringing";

/** A movie that was read: what it is, and where it begins as the reference of the scene. */
export function MovieRead({ file, there, onPut }: { file: Incoming; there: BroughtFile; onPut: () => void }) {
  const scene = useDocument((s) => s.scene);
  const stage = useMoment((s) => s.stage);
  const [clock, setClock] = useState<"cut" | "stage">(scene?.shots.length ? "cut" : "stage");
  // A whole cut begins with it; what was filmed of a moment begins at that moment.
  const first = clock === "cut" ? 0 : stage;
  const take = async () => {
    if (!(await takeReference(there, clock, first))) return;
    setIncoming(file.id, { put: true });
    if (useBringing.getState().files.every((one) => one.put)) onPut();
  };
  return (
    <div className="flex flex-col gap-3" data-testid="movie-read">
      <video
        // A little way in, so that its first picture is shown at once.
        src={`/api/files/${there.key}.mp4#t=0.02`}
        preload="auto"
        controls
        muted
        playsInline
        className="h-72 w-full rounded border border-line bg-black object-contain"
        aria-label={`The movie ${there.name}`}
      />
      <p className="text-sm" data-testid="measures">
        <b>{there.seconds.toFixed(2)} s</b> at {Number(there.rate.toFixed(3))} pictures a second
      </p>
      {there.left_out.map((one) => (
        <p key={one} className="text-sm text-faint">
          {one}
        </p>
      ))}
      <div className="flex flex-wrap items-center justify-end gap-2 border-t border-line pt-3">
        <OneOf
          label="In step with"
          value={clock}
          options={[
            { value: "cut", label: "In step with the cut", tip: "It begins with the first frame of the cut" },
            { value: "stage", label: "With the stage", tip: "It begins at the playhead" },
          ]}
          onSet={setClock}
        />
        <span className="flex-1" />
        <Button onClick={onPut} tip="It stays in the library, for any scene">
          Keep in the library
        </Button>
        <Button tone="main" onClick={take}>
          Use as reference from frame {first}
        </Button>
      </div>
    </div>
  );
}
