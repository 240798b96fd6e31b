interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  disabled?: boolean;
  onSet: (value: T) => void;
}

/** One of a few, in a native list. */
export function Choice<T extends string>({ label, value, options, disabled, onSet }: Props<T>) {
  return (
    <label className="flex items-center gap-1.5 text-sm">
      <span className="min-w-0 flex-1 truncate text-faint">{label}</span>
      <select
        className="field max-w-48"
        value={value}
        disabled={disabled}
        onChange={(e) => onSet(e.target.value as T)}
        onKeyDown={(e) => e.stopPropagation()}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </label>
  );
}
