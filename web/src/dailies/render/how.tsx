import { Choice } from "../../ui/choice";
import { OneOf } from "../../ui/one-of";
import { HEIGHTS } from "../asking";
import { type Part, Titled, Typed } from "./part";

const QUALITIES = [
  { value: "quick", label: "quick: one drawing a frame" },
  { value: "fine", label: "fine: 64, lens and shutter" },
  { value: "timed", label: "timed: seconds a frame" },
] as const;

/** How it is drawn: how large, and of how many drawings. */
export function How({ render, onSet }: Part) {
  return (
    <Titled title="How">
      <div className="flex items-center gap-1">
        <OneOf label="Height" value={render.high} options={HEIGHTS} onSet={(high) => onSet({ high })} />
        <div className="ml-2 flex-1">
          <Typed render={render} onSet={onSet} name="high" label="high" unit="px" step={2} />
        </div>
      </div>
      <Choice
        label="Quality"
        value={render.quality}
        options={QUALITIES}
        onSet={(quality) => onSet({ quality })}
      />
      {render.quality === "timed" && (
        <Typed
          render={render}
          onSet={onSet}
          name="seconds"
          label="Seconds for each frame"
          unit="s"
          digits={1}
          step={0.1}
        />
      )}
    </Titled>
  );
}
