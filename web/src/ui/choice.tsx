import { useId } from "react";
import { ownKeys } from "./own-keys";

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  disabled?: boolean;
  onSet: (value: T) => void;
}

/** One of a few, in a native list. */
export function Choice<T extends string>({ label, value, options, disabled, onSet }: Props<T>) {
  const id = useId();
  return (
    <div className="flex items-center gap-1.5 text-sm">
      <label htmlFor={id} className="min-w-16 flex-1 truncate text-faint">
        {label}
      </label>
      <select
        id={id}
        className="field min-w-0 max-w-48"
        value={value}
        disabled={disabled}
        onChange={(e) => onSet(e.target.value as T)}
        onKeyDown={(e) => {
          ownKeys(e);
          if (e.key === "Escape") e.currentTarget.blur();
        }}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </div>
  );
}
