import { useRef, useState } from "react";
import type { Problem } from "../api/types";
import { useDocument } from "../store/document";
import { ownKeys } from "./own-keys";

interface Props {
  label: string;
  value: string;
  disabled?: boolean;
  placeholder?: string;
  /** The label is said to those who cannot see, and stands elsewhere for those who can. */
  bare?: boolean;
  /** It holds the name of what the card is of: F2 goes to it. */
  names?: boolean;
  onSet: (value: string, seen: number) => Promise<Problem | null>;
}

/** A line of text kept on Enter or on leaving it; a refusal leaves what was typed. */
export function TextField({ label, value, disabled, placeholder, bare, names, onSet }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const seen = useRef(0);
  const dropped = useRef(false);
  const input = useRef<HTMLInputElement>(null);
  const keep = async () => {
    if (text === null || text === value) {
      setText(null);
      return;
    }
    const refused = await onSet(text, seen.current);
    setProblem(refused ? refused.detail : null);
    if (refused) seen.current = useDocument.getState().revision;
    else {
      setText(null);
      if (document.activeElement !== input.current) return;
      // Left so, there is nothing to keep once more.
      dropped.current = true;
      input.current?.blur();
    }
  };
  return (
    <label className="block text-sm">
      <span className={bare ? "sr-only" : "text-faint"}>{label}</span>
      <input
        ref={input}
        data-name={names}
        className={`field mt-0.5 w-full ${problem ? "border-brick!" : ""}`}
        value={text ?? value}
        placeholder={placeholder}
        disabled={disabled}
        aria-invalid={!!problem}
        onFocus={() => {
          seen.current = useDocument.getState().revision;
        }}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => {
          if (!problem && !dropped.current) void keep();
          dropped.current = false;
        }}
        onKeyDown={(e) => {
          ownKeys(e);
          if (e.key === "Enter") void keep();
          if (e.key === "Escape") {
            // The old value again, and the keyboard is the desk's.
            dropped.current = true;
            setText(null);
            setProblem(null);
            e.currentTarget.blur();
          }
        }}
      />
      {problem && (
        <span role="alert" className="mt-0.5 block rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          {problem}
        </span>
      )}
    </label>
  );
}
