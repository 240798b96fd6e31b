import { useQuery } from "@tanstack/react-query";
import { outlinesOf } from "../api/queries";
import { useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { NumberField } from "../ui/number-field";

const NONE: Record<string, number[]> = {};

/** Where the plan cuts what was brought in, by piece. */
export function useOutlines(): Record<string, number[]> {
  const id = useDocument((s) => s.id) ?? 0;
  const height = usePreferences((s) => s.planCut);
  const stands = useDocument((s) =>
    (s.scene?.pieces ?? [])
      .map((p) => p.source && `${p.id} ${p.source.file} ${p.source.part} ${p.base} ${p.height}`)
      .filter(Boolean)
      .join(),
  );
  return useQuery(outlinesOf(id, stands, height)).data ?? NONE;
}

/** How high the plan cuts; only where there is something to cut. */
export function CutHeight() {
  const height = usePreferences((s) => s.planCut);
  const there = useDocument((s) => s.scene?.pieces.some((piece) => piece.source));
  if (!there) return null;
  return (
    <div
      className="w-36 rounded-[3px] border border-line bg-sheet px-1"
      title="How high over the floor the plan cuts sets"
    >
      <NumberField
        label="Cut at"
        compact
        value={height}
        unit="m"
        step={0.1}
        digits={1}
        onSet={async (planCut) => {
          usePreferences.setState({ planCut });
          return null;
        }}
      />
    </div>
  );
}
