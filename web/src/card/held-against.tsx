import { OneOf } from "../ui/one-of";

export type Held = "hidden" | "beside" | "over";

/** How something is held against the camera's picture, and how strong it is where both are seen at once. */
export function HeldAgainst({
  held,
  strength,
  over,
  onSet,
}: {
  held: Held;
  strength: number;
  /** What the way is called in which both are seen at once. */
  over: { label: string; tip: string };
  onSet: (to: { held?: Held; strength?: number }) => void;
}) {
  return (
    <>
      <OneOf
        label="In the viewfinder"
        value={held}
        options={[
          { value: "hidden", label: "Hidden", tip: "The camera's picture alone" },
          { value: "beside", label: "Beside", tip: "Small, in the picture's corner" },
          { value: "over", ...over },
        ]}
        onSet={(value) => onSet({ held: value })}
      />
      {held === "over" && (
        <label className="flex items-center gap-2 text-sm">
          Strength
          <input
            type="range"
            className="flex-1 accent-slate"
            min={5}
            max={100}
            value={Math.round(strength * 100)}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) => onSet({ strength: Number(e.target.value) / 100 })}
          />
          <span className="w-10 text-right text-faint">{Math.round(strength * 100)} %</span>
        </label>
      )}
    </>
  );
}
