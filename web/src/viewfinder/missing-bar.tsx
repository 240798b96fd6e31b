import { useState } from "react";
import { useDocument } from "../store/document";
import { CUT, fetchAgain, LINES, SOUNDS, useVersions } from "../store/samples";
import { Button } from "../ui/button";

/** What could not be fetched, so that an old picture is not taken for the stored one. */
export function MissingBar() {
  const failed = useVersions((s) => s.failed);
  const scene = useDocument((s) => s.scene);
  const [again, setAgain] = useState(false);
  const things = Object.keys(failed);
  if (things.length === 0 || !scene) return null;
  const named = (id: string) => {
    if (id === CUT) return "the cut";
    if (id === LINES) return "the lines";
    if (id === SOUNDS) return "the sounds";
    const plain = id.replace("shape:", "");
    const camera = scene.cameras.find((c) => c.id === plain);
    if (camera) return `camera ${camera.letter}`;
    return [...scene.figures, ...scene.movers].find((t) => t.id === plain)?.name ?? plain;
  };
  const names = [...new Set(things.map(named))];
  const told =
    names.length > 3 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", ");
  return (
    <div
      role="alert"
      className="flex items-center gap-2 border-t border-brick bg-brick-wash px-3 py-1.5 text-sm"
      data-testid="missing"
    >
      <span className="min-w-0 flex-1">
        <b className="text-brick">Not as it is stored: {told}.</b> {failed[things[0]]} What you see of it is
        older.
      </span>
      <Button
        disabled={again}
        onClick={async () => {
          setAgain(true);
          await fetchAgain();
          setAgain(false);
        }}
      >
        Try again
      </Button>
    </div>
  );
}
