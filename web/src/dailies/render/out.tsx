import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { Tick } from "../../ui/tick";
import { type Part, typed } from "./part";

const PICTURES = [
  { value: "none", label: "none" },
  { value: "png", label: "PNG, a folder for each shot" },
  { value: "jpeg", label: "JPEG, a folder for each shot" },
] as const;

/** What comes out: a movie, pictures, and how small they are made. */
export function Out({ render, onSet }: Part) {
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="heading mb-1">What comes out</legend>
      <Tick on={render.movie} onSet={(movie) => onSet({ movie })}>
        a movie for showing, .mp4 (H.264)
      </Tick>
      {render.movie && (
        <NumberField
          label="Movie's rate factor, lower is better"
          digits={0}
          step={1}
          value={render.movie_factor}
          onSet={typed(onSet, "movie_factor")}
        />
      )}
      <Choice
        label="Pictures"
        value={render.pictures}
        options={PICTURES}
        onSet={(pictures) => onSet({ pictures })}
      />
      {render.pictures === "jpeg" && (
        <NumberField
          label="JPEG quality, higher is better"
          digits={0}
          step={1}
          value={render.jpeg}
          onSet={typed(onSet, "jpeg")}
        />
      )}
      <p className="text-xs text-faint">
        Of the cut and of its shots also an .otio whose clips point at what is rendered. A scene has no sound
        yet, and so a movie has none.
      </p>
    </fieldset>
  );
}
