import { Choice } from "../../ui/choice";
import { Tick } from "../../ui/tick";
import { type Part, Titled, Typed } from "./part";

const PICTURES = [
  { value: "none", label: "none" },
  { value: "png", label: "PNG, a folder for each shot" },
  { value: "jpeg", label: "JPEG, a folder for each shot" },
] as const;

/** What comes out: a movie, pictures, and how small they are made. */
export function Out({ render, onSet }: Part) {
  return (
    <Titled title="What comes out">
      <Tick on={render.movie} onSet={(movie) => onSet({ movie })}>
        a movie for showing, .mp4 (H.264)
      </Tick>
      {render.movie && (
        <Typed
          render={render}
          onSet={onSet}
          name="movie_factor"
          label="Movie's rate factor, lower is better"
        />
      )}
      <Choice
        label="Pictures"
        value={render.pictures}
        options={PICTURES}
        onSet={(pictures) => onSet({ pictures })}
      />
      {render.pictures === "jpeg" && (
        <Typed render={render} onSet={onSet} name="jpeg" label="JPEG quality, higher is better" />
      )}
      <p className="text-xs text-faint">
        Of the cut and of its shots also an .otio whose clips point at what is rendered. A scene has no sound
        yet, and so a movie has none.
      </p>
    </Titled>
  );
}
