import { hue, onHue } from "../store/hues";

/** A camera's letter on its hue. */
export function Letter({ letter, size = 20 }: { letter: string; size?: number }) {
  return (
    <span
      className="inline-grid shrink-0 place-items-center rounded-[3px] font-semibold"
      style={{
        background: hue(letter),
        color: onHue(letter),
        width: size,
        height: size,
        fontSize: Math.max(12, size * 0.62),
      }}
    >
      {letter}
    </span>
  );
}
