import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { OneOf } from "../../ui/one-of";
import { HEIGHTS } from "../asking";
import { type Part, typed } from "./part";

const QUALITIES = [
  { value: "quick", label: "quick: one drawing a frame" },
  { value: "fine", label: "fine: 64, lens and shutter" },
  { value: "timed", label: "timed: seconds a frame" },
] as const;

/** How it is drawn: how large, and of how many drawings. */
export function How({ render, onSet }: Part) {
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="heading mb-1">How</legend>
      <div className="flex items-center gap-1">
        <OneOf label="Height" value={render.high} options={HEIGHTS} onSet={(high) => onSet({ high })} />
        <div className="ml-2 flex-1">
          <NumberField
            label="high"
            unit="px"
            digits={0}
            step={2}
            value={render.high}
            onSet={typed(onSet, "high")}
          />
        </div>
      </div>
      <Choice
        label="Quality"
        value={render.quality}
        options={QUALITIES}
        onSet={(quality) => onSet({ quality })}
      />
      {render.quality === "timed" && (
        <NumberField
          label="Seconds for each frame"
          unit="s"
          digits={1}
          step={0.1}
          value={render.seconds}
          onSet={typed(onSet, "seconds")}
        />
      )}
    </fieldset>
  );
}
