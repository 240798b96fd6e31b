import { Columns2, EyeOff, Replace } from "lucide-react";
import { useLayoutEffect, useRef } from "react";
import { redraw } from "../picture/renderer/redraw";
import { small } from "../picture/renderer/small";
import { itemOf, useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { insetCamera, swapPictures, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { useHold } from "../ui/hold";
import type { Rect } from "./layout";

const NARROWEST = 110;

/** The other picture, small: the camera's while the rover looks, the rover's while a camera looks. */
export function Inset({ place }: { place: Rect }) {
  const sheet = useRef<HTMLCanvasElement>(null);
  const rover = useView((s) => s.through === "rover");
  useView((s) => s.lastCamera);
  const camera = useDocument((s) => itemOf(s.scene, "cameras", insetCamera()));
  const beside = usePreferences((s) => s.beside);
  useLayoutEffect(() => {
    small.sheet = sheet.current;
    redraw();
    return () => {
      small.sheet = null;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another size is drawn again
  useLayoutEffect(() => redraw(), [place.width, place.height]);
  const hold = useHold();
  const size = hold(() => {
    const which = rover ? "insetWidth" : "insetNarrow";
    const was = usePreferences.getState()[which];
    return {
      move: (hand) => usePreferences.setState({ [which]: Math.max(was + hand.dx, NARROWEST) }),
      cancel: () => usePreferences.setState({ [which]: was }),
    };
  });
  const name = rover ? `camera ${camera?.letter ?? ""} ${camera?.name ?? ""}` : "the rover";
  const tool =
    "grid h-6 w-6 place-items-center rounded-[3px] bg-paper/90 text-ink opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 focus-visible:opacity-100";
  return (
    <div
      className="group absolute z-10 shadow-[0_0_0_1px_rgb(0_0_0/0.35),0_1px_6px_rgb(0_0_0/0.35)]"
      style={place}
      data-testid="inset"
    >
      <canvas ref={sheet} className="h-full w-full bg-mat" />
      <button
        type="button"
        aria-label={`Look through ${name}`}
        title={`Through ${name}: press to change places  (V)`}
        className="absolute inset-0 cursor-pointer"
        onClick={swapPictures}
      />
      <span className="pointer-events-none absolute bottom-0.5 left-0.5 flex max-w-full items-center gap-1 rounded-[3px] bg-paper/90 px-1 text-xs">
        {rover && camera ? (
          <>
            <Letter letter={camera.letter} size={15} />
            <span className="truncate">{camera.name}</span>
          </>
        ) : (
          "Rover"
        )}
      </span>
      <div className="absolute top-0.5 right-0.5 flex gap-0.5">
        <button
          type="button"
          className={tool}
          aria-label="Change places"
          title="Change places  (V)"
          onClick={swapPictures}
        >
          <Replace size={13} />
        </button>
        <button
          type="button"
          className={tool}
          aria-label={beside ? "Dock it small" : "Side by side"}
          title={`${beside ? "Dock it small" : "Side by side"}  (Shift V)`}
          onClick={() => usePreferences.setState({ beside: !beside })}
        >
          <Columns2 size={13} />
        </button>
        <button
          type="button"
          className={tool}
          aria-label="Hide the small picture"
          title="Hide the small picture  (I)"
          onClick={() => usePreferences.setState({ inset: false })}
        >
          <EyeOff size={13} />
        </button>
      </div>
      {!beside && (
        <div
          className="absolute right-0 bottom-0 h-4 w-4 cursor-nwse-resize opacity-0 group-hover:opacity-100"
          title="Drag to size"
          data-testid="inset-size"
          {...size}
        >
          <svg viewBox="0 0 16 16" aria-hidden="true">
            <path d="M15 5 V15 H5 Z" fill="var(--paper)" />
          </svg>
        </div>
      )}
    </div>
  );
}
