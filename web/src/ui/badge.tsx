import { hue, onHue } from "../store/hues";

/** A camera's letter on its hue; ringed while the cut shows it. */
export function Letter({ letter, size = 20, air = false }: { letter: string; size?: number; air?: boolean }) {
  return (
    <span
      className="inline-grid shrink-0 place-items-center rounded-[3px] font-semibold"
      style={{
        background: hue(letter),
        color: onHue(letter),
        width: size,
        height: size,
        fontSize: Math.max(12, size * 0.62),
        boxShadow: air ? "0 0 0 1.5px var(--sheet), 0 0 0 3.5px var(--ink)" : "0 0 0 var(--rim) var(--faint)",
      }}
      data-air={air || undefined}
      title={air ? "On air: the cut shows it at this moment" : undefined}
    >
      {letter}
    </span>
  );
}
