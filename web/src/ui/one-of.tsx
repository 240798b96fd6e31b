import { Button } from "./button";

interface Props<T extends string | number> {
  label: string;
  value: T | null;
  options: readonly { value: T; label?: string; tip?: string }[];
  disabled?: boolean;
  onSet: (value: T) => void;
}

/** One of a few, each a button that can be seen. */
export function OneOf<T extends string | number>({ label, value, options, disabled, onSet }: Props<T>) {
  return (
    <div className="flex flex-wrap items-center gap-1" role="group" aria-label={label}>
      {options.map((one) => (
        <Button
          key={one.value}
          tip={one.tip}
          on={one.value === value}
          disabled={disabled}
          onClick={() => onSet(one.value)}
        >
          {one.label ?? one.value}
        </Button>
      ))}
    </div>
  );
}
