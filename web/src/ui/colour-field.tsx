import { useEffect, useRef } from "react";

/** A colour, kept when the picker is closed. */
export function ColourField({
  label,
  value,
  onSet,
}: {
  label: string;
  value: string;
  onSet: (value: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const el = input.current;
    if (!el) return;
    el.value = value;
    // React's onChange hears every movement in the picker; the plain event only its end.
    const done = () => el.value !== value && onSet(el.value);
    el.addEventListener("change", done);
    return () => el.removeEventListener("change", done);
  }, [value, onSet]);
  return (
    <label className="flex items-center gap-1.5 text-sm">
      <span className="flex-1 text-faint">{label}</span>
      <input
        ref={input}
        type="color"
        defaultValue={value}
        className="h-6 w-12 rounded-[3px] border border-line bg-sheet p-0.5"
      />
    </label>
  );
}
