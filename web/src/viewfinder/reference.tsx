import { useEffect, useRef, useState } from "react";
import { useDocument } from "../store/document";
import { lastRun, rate, useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";

/** How far off playback may drift before it is corrected, seconds. */
const DRIFT_S = 0.06;

/** The reference movie at the moment that is shown: small beside the picture, or seen through it. */
export function ReferenceView() {
  const movie = useDocument((s) => s.shown?.reference);
  const { movie: held, movieStrength } = usePreferences();
  const video = useRef<HTMLVideoElement>(null);
  const [failed, setFailed] = useState(false);
  const file = movie?.file;
  const shown = Boolean(movie) && held !== "hidden";
  // biome-ignore lint/correctness/useExhaustiveDependencies: another file may be one that can be shown
  useEffect(() => setFailed(false), [file]);
  const now = useMoment((s) => (movie?.clock === "cut" ? s.cut : s.stage));
  // The middle of a frame: its edges may be either of two pictures.
  const at = movie ? (now - movie.first + 0.5) / rate() : 0;
  const within = movie ? at >= 0 && at < movie.seconds : false;
  useEffect(() => {
    const it = video.current;
    if (!it || !shown) return;
    const follow = () => {
      const { playing } = useMoment.getState();
      const speed = lastRun()?.speed ?? 1;
      const plays = playing && within && speed > 0;
      if (plays) {
        it.playbackRate = speed;
        if (it.paused) it.play().catch(() => undefined);
        if (Math.abs(it.currentTime - at) > DRIFT_S) it.currentTime = at;
      } else {
        it.pause();
        if (within && Math.abs(it.currentTime - at) > 1e-4) it.currentTime = at;
      }
    };
    follow();
    return useMoment.subscribe((s, was) => s.playing !== was.playing && follow());
  }, [at, within, shown]);
  if (!movie || !shown) return null;
  const over = held === "over";
  return (
    <div
      className={
        over
          ? "pointer-events-none absolute inset-0"
          : "pointer-events-none absolute right-2 bottom-2 w-[30%] border-2 border-white bg-black shadow"
      }
      style={over ? { opacity: within ? movieStrength : 0 } : undefined}
      data-testid="reference-movie"
      data-within={within}
    >
      {failed ? (
        <p className="p-2 text-sm text-white">
          {movie.name} cannot be shown: its file is not here. Bring it in again.
        </p>
      ) : (
        <video
          ref={video}
          src={`/api/files/${movie.file}.mp4`}
          muted
          playsInline
          preload="auto"
          className={`block h-full w-full object-contain ${within ? "" : "invisible"}`}
          aria-label={`Reference movie ${movie.name}`}
          data-at={at.toFixed(4)}
          onError={() => setFailed(true)}
          onLoadedData={(e) => {
            if (within) e.currentTarget.currentTime = at;
          }}
        />
      )}
      {!over && !within && !failed && (
        <p className="absolute inset-0 grid place-items-center text-xs text-white/80">
          {at < 0 ? "not yet begun" : "over"}
        </p>
      )}
    </div>
  );
}
