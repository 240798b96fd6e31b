import { Choice } from "../../ui/choice";
import { Tick } from "../../ui/tick";
import { type Part, Titled } from "./part";

const LINES = [
  ["safe", "Safe areas"],
  ["thirds", "Thirds"],
  ["centre", "Middle"],
  ["diagonals", "Diagonals"],
  ["golden", "Golden section"],
  ["protect", "Protected aspects"],
] as const;

const JUDGED = [
  { value: "", label: "as they are" },
  { value: "silhouettes", label: "figures as silhouettes" },
  { value: "lines", label: "line drawing" },
  { value: "values3", label: "three greys" },
  { value: "values5", label: "five greys" },
  { value: "squint", label: "squint" },
] as const;

/** What is written under the pictures, over them and before them. */
export function Written({ render, onSet }: Part) {
  const { lines } = render;
  return (
    <Titled title="Written on it">
      <Tick on={render.slate} onSet={(slate) => onSet({ slate })}>
        a slate under the picture: scene, shot, camera, lens, focus, the clocks
      </Tick>
      {render.slate && (
        <Tick on={render.said} onSet={(said) => onSet({ said })}>
          the dialogue, on the slate
        </Tick>
      )}
      <div className="flex flex-wrap gap-x-3 gap-y-1">
        {LINES.map(([name, label]) => (
          <Tick
            key={name}
            on={lines.includes(name)}
            onSet={(on) => onSet({ lines: on ? [...lines, name] : lines.filter((one) => one !== name) })}
          >
            {label}
            {name === "protect" && lines.includes("protect") && (
              <input
                aria-label="Protected aspects"
                className="field ml-1 w-16"
                value={render.protect}
                onChange={(e) => onSet({ protect: e.target.value })}
              />
            )}
          </Tick>
        ))}
      </div>
      <div className="flex items-center gap-3">
        <Choice
          label="To judge them"
          value={render.judge}
          options={JUDGED}
          onSet={(judge) => onSet({ judge })}
        />
        <Tick on={render.mirrored} onSet={(mirrored) => onSet({ mirrored })}>
          mirrored
        </Tick>
      </div>
      <Tick on={render.leader} disabled={render.pictures === "none"} onSet={(leader) => onSet({ leader })}>
        a leader before each shot's pictures
      </Tick>
    </Titled>
  );
}
