import { useQuery } from "@tanstack/react-query";
import { airOf } from "../api/queries";
import type { Camera } from "../api/types";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, scrubStage } from "../store/view";
import { useAlong, visible, xOf } from "../ui/strip";

/** Where no shot uses a camera: pressed, it goes there at once to where its next shot begins. */
export function OffAir({ camera }: { camera: Camera }) {
  const along = useAlong();
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const air = useQuery(airOf(id, revision)).data?.[camera.id];
  if (!air) return null;
  return (
    <>
      {air.off
        .filter((span) => visible(along, span.first, span.last))
        .map((span) => {
          const width = (span.last - span.first + 1) * along.ppf;
          return (
            <button
              type="button"
              key={span.first}
              disabled={span.next === null || camera.locked}
              aria-label={`Camera ${camera.letter} off air ${span.first} to ${span.last}`}
              title={
                span.next !== null
                  ? `Off air ${span.first}–${span.last}. Press: it waits where its next shot begins, at ${span.next}`
                  : `Off air ${span.first}–${span.last}, and in no shot after that`
              }
              className="group absolute top-1/2 h-3.5 -translate-y-1/2 overflow-hidden text-left text-xs leading-3.5 whitespace-nowrap text-faint disabled:cursor-default"
              style={{ left: xOf(along, span.first), width: Math.max(width - 1, 2) }}
              onClick={async () =>
                complain(await send({ kind: "camera.off_air", camera: camera.id, frame: span.first }))
              }
            >
              <span className="absolute inset-x-0 top-1/2 border-t border-dotted border-faint opacity-60" />
              {width > 60 && span.next !== null && (
                <span className="relative bg-sheet/80 px-1 opacity-0 group-hover:opacity-100 group-focus-visible:opacity-100">
                  off air: wait for the next shot
                </span>
              )}
            </button>
          );
        })}
      {air.runs_on.map((one) => (
        <button
          type="button"
          key={one.first}
          title={one.sentence}
          aria-label={one.sentence}
          className="absolute top-1/2 z-1 h-3.5 w-3.5 -translate-y-1/2 rounded-full border border-brick bg-sheet text-center text-xs leading-3 font-semibold text-brick"
          style={{ left: xOf(along, one.first) - 16 }}
          onClick={() => scrubStage(one.first)}
        >
          !
        </button>
      ))}
    </>
  );
}
