import { boardUrl } from "../api/client";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";

/** What stands in place of a picture: a slate with what is known of its shot, or black. */
export function Black() {
  const shot = useDocument((s) => s.shown?.shots)?.[useMoment((s) => s.shot)];
  return (
    <div
      className="absolute inset-0 grid place-items-center bg-black text-sm text-white/60"
      data-testid={shot ? "slate" : "black"}
    >
      {shot?.board ? (
        <img
          src={boardUrl(shot.board)}
          alt={`Board of shot ${shot.name}`}
          className="absolute inset-0 h-full w-full object-contain"
        />
      ) : shot ? (
        <p className="flex max-w-4/5 flex-col items-center gap-2 text-center text-white">
          <b className="text-4xl">{shot.name}</b>
          {shot.note && <span className="text-lg">{shot.note}</span>}
          <span className="text-white/70">{shot.stage.last - shot.stage.first + 1} f · no camera yet</span>
        </p>
      ) : (
        "Gap: plays black"
      )}
    </div>
  );
}
