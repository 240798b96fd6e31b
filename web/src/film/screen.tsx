import { useEffect, useRef, useState } from "react";
import { shownAt, useFilm } from "./film";

/** A page of ours that draws one scene. */
interface Page extends Window {
  heronShow?: (cut: number, playing: boolean) => void;
  heronProblem?: string;
}

/** How many scenes are kept ready: the one that is shown, those beside it, and those seen last. */
const KEPT = 4;

/** The picture of the film: each scene is drawn by a page of its own, so that a cut between two waits for nothing. */
export function Screen({ wide, high }: { wide: number; high: number }) {
  const film = useFilm((s) => s.film);
  const frame = useFilm((s) => s.frame);
  const playing = useFilm((s) => s.playing);
  const pages = useRef(new Map<number, HTMLIFrameElement>());
  const [kept, setKept] = useState<number[]>([]);
  const [ready, setReady] = useState(false);
  const shown = shownAt(film, frame);
  const scene = shown?.reel.scene;
  const place = film?.reels.findIndex((one) => one.id === shown?.reel.id) ?? -1;
  const next = place >= 0 ? film?.reels[place + 1]?.scene : undefined;

  /** As large as its pictures fit the room. */
  const sized = (one: number): [number, number] => {
    const aspect = film?.reels.find((reel) => reel.scene === one)?.aspect ?? 16 / 9;
    const w = Math.floor(Math.min(wide, high * aspect));
    return [w, Math.floor(w / aspect)];
  };

  useEffect(() => {
    const wanted = [scene, next].filter((one): one is number => one !== undefined);
    setKept((was) => {
      const now = [...new Set([...wanted, ...was])].slice(0, KEPT);
      return now.length === was.length && now.every((one) => was.includes(one)) ? was : now;
    });
  }, [scene, next]);

  // A page that is not there yet is asked again until it is.
  useEffect(() => {
    let ends = false;
    const show = () => {
      if (ends || !shown) return;
      const page = pages.current.get(shown.reel.scene)?.contentWindow as Page | null | undefined;
      const there = page?.heronShow && page.document.querySelector("canvas[data-ready]");
      setReady(Boolean(there));
      page?.heronShow?.(shown.cut, playing);
      if (!there) window.setTimeout(show, 60);
    };
    show();
    return () => {
      ends = true;
    };
  }, [shown?.reel.scene, shown?.cut, playing, shown]);

  return (
    <div
      className="relative bg-black"
      style={{ width: wide, height: high }}
      data-testid="film-picture"
      data-shown={shown ? `${shown.reel.scene} ${shown.cut}` : ""}
      data-ready={ready}
    >
      {wide > 0 &&
        kept.map((one) => (
          <iframe
            key={`${one} ${sized(one)}`}
            ref={(element) => {
              if (element) pages.current.set(one, element);
              else pages.current.delete(one);
            }}
            title={`Scene ${one}`}
            src={`/draw/${one}?wide=${sized(one)[0]}&high=${sized(one)[1]}`}
            tabIndex={-1}
            className="pointer-events-none absolute border-0"
            style={{
              width: sized(one)[0],
              height: sized(one)[1],
              left: (wide - sized(one)[0]) / 2,
              top: (high - sized(one)[1]) / 2,
              opacity: one === scene ? 1 : 0,
            }}
          />
        ))}
      {shown && !ready && (
        <p className="absolute inset-0 grid place-items-center text-white/70" role="status">
          Opening {shown.reel.name}…
        </p>
      )}
      {film && !shown && (
        <p className="absolute inset-0 grid place-items-center text-white/70">
          No scenes yet. Take one in below.
        </p>
      )}
    </div>
  );
}
