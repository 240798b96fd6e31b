import { type ButtonHTMLAttributes, Children, type ReactNode } from "react";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** What it does, said on hover, with the key that does the same. */
  tip?: string;
  hint?: string;
  on?: boolean;
  tone?: "plain" | "main" | "ochre" | "wrong";
  children: ReactNode;
}

const TONES = {
  plain: "border-line bg-sheet hover:bg-well",
  main: "border-slate bg-slate text-sheet hover:brightness-110",
  ochre: "border-ochre bg-ochre text-sheet hover:brightness-110",
  wrong: "border-brick bg-brick text-sheet hover:brightness-110",
};

export function Button({ tip, hint, on, tone = "plain", className = "", children, ...rest }: Props) {
  const look = on ? "border-slate bg-slate-wash text-ink" : TONES[tone];
  // A button of words is called by them; one of a picture alone, by what it does.
  const said = Children.toArray(children).some((child) => typeof child === "string" && child.trim());
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-label={said ? undefined : tip}
      aria-description={said ? tip : undefined}
      data-tip={tip}
      data-hint={hint}
      className={`inline-flex h-7 shrink-0 items-center justify-center gap-1.5 rounded-[3px] border px-2 text-sm whitespace-nowrap disabled:opacity-40 ${look} ${className}`}
      {...rest}
    >
      {children}
    </button>
  );
}
