import { useEffect, useRef } from "react";
import type { TakeFrame } from "../../api/types";
import { useHold } from "../../ui/hold";
import { fetchPicture, isLost, pictureOf } from "./pictures";

export type Way = "alone" | "beside" | "wipe" | "difference";

/** Between two pictures that stand side by side. */
const GAP = 6;

interface Props {
  /** What is shown of each take at this frame; null is black, undefined that there is nothing. */
  one: TakeFrame | null | undefined;
  other: TakeFrame | null | undefined;
  /** What comes next, to be fetched meanwhile. */
  ahead: string[];
  way: Way;
  wipe: number;
  strong: boolean;
  size: [number, number];
  onWipe: (at: number) => void;
}

/** The picture of a take, or of two held against each other. */
export function Screen({ one, other, ahead, way, wipe, strong, size, onWipe }: Props) {
  const sheet = useRef<HTMLCanvasElement>(null);
  const hold = useHold();
  const double = way === "beside";
  const [wide, high] = [double ? 2 * size[0] + GAP : size[0], size[1]];
  const keys = [one?.proof ?? "", way === "alone" ? "" : (other?.proof ?? "")];
  const next = ahead.join();

  useEffect(() => {
    let wanted = true;
    const draw = () => {
      const pen = sheet.current?.getContext("2d", { willReadFrequently: true });
      if (!wanted || !pen || !sheet.current) return;
      const [a, b] = keys.map((key) => (key ? pictureOf(key) : null));
      // What is on its way is waited for; what was shown before stays until then.
      if ((keys[0] && !a && !isLost(keys[0])) || (keys[1] && !b && !isLost(keys[1]))) return;
      pen.globalCompositeOperation = "source-over";
      pen.fillStyle = "#000";
      pen.fillRect(0, 0, wide, high);
      const [w, h] = size;
      if (a) pen.drawImage(a, 0, 0, w, h);
      if (way === "beside" && b) pen.drawImage(b, w + GAP, 0, w, h);
      if (way === "wipe") {
        pen.save();
        pen.beginPath();
        pen.rect(wipe * w, 0, w, h);
        pen.clip();
        pen.fillRect(0, 0, w, h);
        if (b) pen.drawImage(b, 0, 0, w, h);
        pen.restore();
        pen.fillStyle = "#fff";
        pen.fillRect(wipe * w - 1, 0, 2, h);
      }
      if (way === "difference") {
        pen.globalCompositeOperation = "difference";
        if (b) pen.drawImage(b, 0, 0, w, h);
        // Added to itself twice: four times as strong.
        pen.globalCompositeOperation = "lighter";
        if (strong) for (let i = 0; i < 2; i++) pen.drawImage(sheet.current, 0, 0);
        pen.globalCompositeOperation = "source-over";
      }
      if (keys.some((key) => key && isLost(key))) {
        pen.fillStyle = "#eee";
        pen.font = `${Math.max(high / 24, 11)}px Barlow, sans-serif`;
        pen.fillText("This picture is no longer cached; render again", high / 24, high / 12);
      }
      sheet.current.dataset.shown = keys.join(" ");
    };
    draw();
    void Promise.all(keys.filter(Boolean).map(fetchPicture)).then(draw);
    return () => {
      wanted = false;
    };
  });

  useEffect(() => {
    for (const key of next.split(",").filter(Boolean)) void fetchPicture(key);
  }, [next]);

  const drag = hold((e) => {
    const box = sheet.current?.getBoundingClientRect();
    if (way !== "wipe" || !box || e.button !== 0) return null;
    const at = (x: number) => onWipe(Math.min(Math.max((x - box.left) / box.width, 0), 1));
    const from = e.clientX;
    at(from);
    return { move: (hand) => at(from + hand.dx), drop: () => {}, cancel: () => {} };
  });
  return (
    <canvas
      ref={sheet}
      width={wide}
      height={high}
      role="img"
      aria-label="The takes' picture"
      data-testid="screen"
      className={`bg-black ${way === "wipe" ? "cursor-ew-resize" : ""}`}
      // As large as fits the room round it, whose size the style names.
      style={{ aspectRatio: wide / high, width: `min(100cqw, calc(100cqh * ${wide / high}))` }}
      {...drag}
    />
  );
}
