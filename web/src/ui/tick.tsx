import type { ReactNode } from "react";

interface Props {
  on: boolean;
  disabled?: boolean;
  onSet: (on: boolean) => void;
  children: ReactNode;
}

/** Something that is so or not, in words beside its box. */
export function Tick({ on, disabled, onSet, children }: Props) {
  return (
    <label className={`flex items-center gap-1.5 text-sm ${disabled ? "opacity-50" : ""}`}>
      <input
        type="checkbox"
        className="accent-slate"
        checked={on}
        disabled={disabled}
        onChange={(e) => onSet(e.target.checked)}
      />
      {children}
    </label>
  );
}
