import type { Render, Scene } from "../../api/types";
import { useMoment } from "../../store/moment";
import { Letter } from "../../ui/badge";
import { Button } from "../../ui/button";
import { NumberField } from "../../ui/number-field";
import { OneOf } from "../../ui/one-of";
import { type Part, Titled, Typed } from "./part";

const OF = [
  { value: "cut", label: "The cut" },
  { value: "shots", label: "Shots" },
  { value: "camera", label: "A camera" },
] as const;

/** What is rendered: the cut, some of its shots, or a camera over a range. */
export function What({ render, onSet, scene }: Part & { scene: Scene }) {
  const choose = (of: Render["of"]) => {
    // The shot that is looked at is likely the one that is meant.
    const here = scene.shots[useMoment.getState().shot];
    onSet(of === "shots" && render.shots.length === 0 && here ? { of, shots: [here.id] } : { of });
  };
  return (
    <Titled title="What">
      <OneOf label="What is rendered" value={render.of} options={OF} onSet={choose} />
      {render.of === "shots" && <Shots render={render} onSet={onSet} scene={scene} />}
      {render.of === "camera" && <Camera render={render} onSet={onSet} scene={scene} />}
      <Typed
        render={render}
        onSet={onSet}
        name="spare"
        label="Spare frames at both ends of each shot"
        unit="f"
      />
    </Titled>
  );
}

function Shots({ render, onSet, scene }: Part & { scene: Scene }) {
  const { shots } = render;
  return (
    <div className="flex max-h-32 flex-wrap gap-1 overflow-auto">
      {scene.shots.map(({ id, name }) => (
        <Button
          key={id}
          on={shots.includes(id)}
          onClick={() =>
            onSet({ shots: shots.includes(id) ? shots.filter((one) => one !== id) : [...shots, id] })
          }
        >
          {name}
        </Button>
      ))}
    </div>
  );
}

function Camera({ render, onSet, scene }: Part & { scene: Scene }) {
  const range = render.frames ?? scene.frames;
  const chosen = render.camera ?? scene.cameras[0]?.id;
  return (
    <>
      <div className="flex max-h-32 flex-wrap gap-1 overflow-auto">
        {scene.cameras.map((one) => (
          <Button
            key={one.id}
            tip={one.name}
            aria-label={`Camera ${one.letter}`}
            on={chosen === one.id}
            onClick={() => onSet({ camera: one.id })}
          >
            <Letter letter={one.letter} size={18} />
          </Button>
        ))}
      </div>
      <div className="grid w-72 grid-cols-2 gap-3">
        {(["first", "last"] as const).map((end) => (
          <NumberField
            key={end}
            label={end === "first" ? "From" : "To"}
            digits={0}
            step={1}
            compact
            value={range[end]}
            onSet={async (to) => {
              onSet({ frames: { ...range, [end]: to } });
              return null;
            }}
          />
        ))}
      </div>
    </>
  );
}
