import { ArrowLeft, ArrowRight, Trash2, X } from "lucide-react";
import { rateName } from "../api/catalogue";
import type { Problem } from "../api/types";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { edit, type FilmEdit, type FilmOut, useFilm } from "./film";

/** A scene of the film: what is shown of it, where it stands, how it is fitted. */
export function ReelCard({
  film,
  id,
  onOpen,
}: {
  film: FilmOut;
  id: string;
  onOpen: (frame: number) => void;
}) {
  const place = film.reels.findIndex((one) => one.id === id);
  const reel = film.reels[place];
  if (!reel) return null;
  const others = film.reels.filter((one) => one.id !== id);
  const move = (to: number) => void edit({ edit: "move", reel: id, before: others[to]?.id ?? null });
  const set = async (change: FilmEdit): Promise<Problem | null> => {
    await edit(change);
    return useFilm.getState().problem;
  };
  return (
    <section className="flex flex-col gap-2 px-3 py-2.5 text-sm" data-testid="reel-card">
      <div className="flex items-center gap-2">
        <h2 className="min-w-0 flex-1 truncate text-base font-semibold">
          {place + 1} {reel.name}
        </h2>
        <Button tip="Back to the list of scenes" onClick={() => useFilm.setState({ reel: null })}>
          <X size={14} />
        </Button>
      </div>
      <div className="flex gap-1">
        <Button disabled={!reel.film} onClick={() => reel.film && onOpen(reel.film[0])}>
          Open the scene
        </Button>
        <Button tip="Earlier in the film" disabled={place === 0} onClick={() => move(place - 1)}>
          <ArrowLeft size={14} />
        </Button>
        <Button
          tip="Later in the film"
          disabled={place === film.reels.length - 1}
          onClick={() => move(place + 1)}
        >
          <ArrowRight size={14} />
        </Button>
        <Button
          tip="Take it out of the film; the scene stays"
          onClick={() => void edit({ edit: "drop", reel: id })}
        >
          <Trash2 size={14} />
        </Button>
      </div>
      {(["first", "last"] as const).map((end) => (
        <NumberField
          key={end}
          label={end === "first" ? "First frame of its cut" : "Last frame of its cut"}
          value={reel[end]}
          digits={0}
          step={1}
          unit="f"
          onSet={(v) =>
            set({ edit: "trim", reel: id, first: reel.first, last: reel.last, [end]: Math.round(v) })
          }
        />
      ))}
      <p className="text-faint">
        {reel.last - reel.first + 1} of {reel.length} frames at {rateName(reel.rate)}
      </p>
      {reel.rate !== film.rate && (
        <Choice
          label="In the film"
          value={reel.fit ?? ""}
          options={[
            { value: "time", label: "Keeps its time" },
            { value: "frames", label: "Frame for frame" },
          ]}
          onSet={(fit) => void edit({ edit: "fit", reel: id, fit: fit as "time" | "frames" })}
        />
      )}
      {reel.put_away && (
        <p role="alert" className="rounded bg-brick-wash px-2 py-1 text-brick">
          This scene lies in the trash. Bring it back on the list of scenes, or take it out of the film.
        </p>
      )}
    </section>
  );
}
