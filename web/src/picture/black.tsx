import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { mixNow } from "./mixing";
import { slateUrl, storedSlateUrl, useSlates } from "./slates";

/** What stands in place of a picture: the board or slate of a shot without a camera, or black. */
export function Black() {
  const at = useMoment((s) => s.shot);
  useMoment((s) => s.cut);
  useDocument((s) => s.overlay);
  const arrived = useSlates((s) => s.arrived);
  const shot = useDocument((s) => s.scene?.shots)?.[at];
  // Where it fades or dissolves, it is drawn with the rest.
  if (mixNow()?.slates.some((one) => arrived.has(storedSlateUrl(one.shot) ?? ""))) return null;
  const length = shot && shot.stage.last - shot.stage.first + 1;
  return (
    <div
      className="absolute inset-0 grid place-items-center bg-black text-sm text-white/60"
      data-testid={shot ? "slate" : "black"}
    >
      {shot ? (
        <img
          src={slateUrl(shot)}
          alt={
            shot.board
              ? `Board of shot ${shot.name}`
              : `Slate of shot ${shot.name}, ${length} f, no camera yet`
          }
          className="absolute inset-0 h-full w-full object-contain"
        />
      ) : (
        "Gap: plays black"
      )}
    </div>
  );
}
