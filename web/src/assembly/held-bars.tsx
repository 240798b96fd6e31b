import type { Figure, Mover } from "../api/types";
import { useDocument } from "../store/document";
import { heldOf } from "../store/parts";
import { useVersion } from "../store/samples";
import { scrubStage, select } from "../store/view";
import { useAlong, visible, xOf } from "../ui/strip";
import { selectActs } from "../verbs/acts";

/** From when to when a thing is in somebody's hand, in the colour of who holds it. */
export function HeldBars({ mover }: { mover: Mover }) {
  const along = useAlong();
  const scene = useDocument((s) => s.shown);
  useVersion(mover.id);
  const held = heldOf(mover.id);
  const last = scene?.frames.last ?? 0;
  return held.map(({ frame, by, act, down }, i) => {
    const until = held[i + 1]?.frame ?? last + 1;
    const figure: Figure | undefined = scene?.figures.find((one) => one.id === by);
    if (down || !figure || !visible(along, frame, until)) return null;
    // The act that brought it there is the giver's.
    const owner = scene?.figures.find((one) => one.acts.some((a) => a.id === act)) ?? figure;
    const left = xOf(along, frame);
    return (
      <button
        key={act}
        type="button"
        title={`${figure.name} holds ${mover.name} from ${frame} to ${until - 1}`}
        className="absolute top-1/2 h-2.5 -translate-y-1/2 truncate rounded-[2px] px-1 text-left text-[10px] leading-[10px] text-white opacity-80"
        style={{ left, width: Math.max(xOf(along, until) - left - 1, 3), background: figure.look.coat }}
        onClick={() => {
          select("figure", [owner.id]);
          selectActs(owner.id, [act]);
          scrubStage(frame);
        }}
      />
    );
  });
}
