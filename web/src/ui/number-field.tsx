import { useEffect, useId, useRef, useState } from "react";
import type { Problem } from "../api/types";
import { useDocument } from "../store/document";
import { dropOverlay, endTry, sendAll } from "../store/sending";
import { type Hand, useHold } from "./hold";
import { nudge } from "./nudge";
import { ownKeys } from "./own-keys";
import { typed } from "./sum";

export interface Remedy {
  label: string;
  act: () => Promise<Problem | null>;
}

interface Props {
  label: string;
  /** What stands before the number, as f/ does. */
  front?: string;
  /** Infinity is a value; it is typed as inf. */
  endless?: boolean;
  /** It is in frames, at so many a second: seconds can be typed, as `2.5s`. */
  perSecond?: number;
  /** It counts frames, and is said in seconds too. */
  counts?: boolean;
  /** What may be done about a refusal, in place of correcting the number. */
  remedy?: (problem: Problem, value: number) => Remedy | null;
  value: number;
  /** There is none yet: nothing stands there, and a drag or a step begins at `value`. */
  blank?: boolean;
  unit?: string;
  digits?: number;
  /** What one arrow key, or one pixel of dragging the label, changes. */
  step?: number;
  /** A step multiplies by this instead: for stops, whose steps are ratios. */
  ratio?: number;
  disabled?: boolean;
  compact?: boolean;
  /** Show a value while the label is dragged. */
  onTry?: (value: number) => void;
  /** Keep a value; a problem leaves the typed text where it is. */
  onSet: (value: number, seen: number) => Promise<Problem | null>;
}

/** For so long after a step the next one goes on from it, whatever is shown by then. */
const STEPPING_MS = 700;

/** A number that can be typed, stepped with the arrow keys, and dragged by its label. */
export function NumberField(props: Props) {
  const { label, value, unit = "", digits = 2, step = 0.1, disabled, onTry, onSet } = props;
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [ways, setWays] = useState<Remedy[]>([]);
  const [dragged, setDragged] = useState<number | null>(null);
  const seen = useRef(0);
  const dropped = useRef(false);
  /** Where the last steps of the arrows have brought it, and when: the answer may still be on its way. */
  const stepping = useRef({ at: 0, value: 0 });
  const id = useId();
  const shown = text ?? (props.blank && dragged === null ? "" : say(dragged ?? value, digits));

  // A new value from elsewhere clears an old complaint, unless something is being typed.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new value is the reason to run
  useEffect(() => {
    if (text === null) setProblem(null);
  }, [value, text]);

  /** `was` is the value before the hand: while it drags, what is shown is already what it tries. */
  const keep = async (next: number, was = value): Promise<boolean> => {
    if (Number.isNaN(next) || (!props.endless && !Number.isFinite(next))) {
      setProblem(`${label} must be a number, or a sum like 3*24. Type one, or press Escape.`);
      return false;
    }
    if (!props.blank && Number(next.toFixed(6)) === Number(was.toFixed(6))) {
      setText(null);
      setProblem(null);
      return true;
    }
    const refused = await onSet(next, seen.current);
    if (refused) {
      setProblem(refused.detail);
      const own = props.remedy?.(refused, next);
      const offered = (refused.alternatives ?? []).map(({ label, commands }) => ({
        label,
        act: () => sendAll(commands),
      }));
      setWays([...offered, ...(own ? [own] : [])]);
      // Having been told what changed, the sender may insist.
      seen.current = useDocument.getState().revision;
    } else {
      setText(null);
      setProblem(null);
    }
    return refused === null;
  };

  const stepped = (from: number, by: number) => (props.ratio ? from * props.ratio ** by : from + by * step);
  const entered = () => typed(text ?? "", value, props.perSecond);

  const hold = useHold();
  const drag = hold((e) => {
    if (disabled || e.button !== 0) return null;
    seen.current = useDocument.getState().revision;
    const was = value;
    const at = (hand: Hand) =>
      stepped(was, Math.round(hand.dx) * (hand.shift ? 0.1 : 1) * (props.ratio ? 0.25 : 1));
    return {
      move: (hand) => {
        setDragged(at(hand));
        onTry?.(at(hand));
      },
      drop: async (hand, moved) => {
        if (moved) await keep(at(hand), was);
        setDragged(null);
      },
      cancel: () => {
        setDragged(null);
        endTry();
        dropOverlay();
      },
    };
  });

  return (
    <div>
      <div className={`flex items-center ${props.compact ? "gap-1" : "gap-1.5"}`}>
        <label
          htmlFor={id}
          className={`min-w-0 flex-1 truncate text-sm text-faint ${disabled ? "" : "cursor-ew-resize"}`}
          title={disabled ? undefined : "Drag to change"}
          {...drag}
          onClick={(e) => dragged !== null && e.preventDefault()}
        >
          {label}
        </label>
        {props.front && <span className="text-xs text-faint">{props.front}</span>}
        <input
          id={id}
          className={`field px-1! ${props.compact ? "w-15" : "w-20"} text-right ${problem ? "border-brick! bg-brick-wash" : ""}`}
          value={shown}
          disabled={disabled}
          inputMode="decimal"
          aria-invalid={!!problem}
          onFocus={(e) => {
            seen.current = useDocument.getState().revision;
            e.currentTarget.select();
          }}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => {
            if (text !== null && !problem && !dropped.current) void keep(entered());
            dropped.current = false;
          }}
          onKeyDown={(e) => {
            ownKeys(e);
            if (e.key === "Enter") {
              // Back to the desk's own keys, unless it is refused and must be mended here.
              const input = e.currentTarget;
              const kept =
                text === null && props.blank
                  ? Promise.resolve(true)
                  : keep(text === null ? value : entered());
              void kept.then((done) => {
                // Left so, there is nothing to keep once more.
                if (!done || document.activeElement !== input) return;
                dropped.current = true;
                input.blur();
              });
            } else if (e.key === "Escape") {
              dropped.current = true;
              setText(null);
              setProblem(null);
              e.currentTarget.blur();
            } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
              e.preventDefault();
              const sign = e.key === "ArrowUp" ? 1 : -1;
              const start = text === null ? value : entered();
              const much = sign * (e.shiftKey ? (props.ratio ? 3 : 10) : 1);
              void nudge(id, [much], async ([by]) => {
                seen.current = useDocument.getState().revision;
                const lately = performance.now() - stepping.current.at < STEPPING_MS;
                const next = stepped(lately ? stepping.current.value : start, by);
                const kept = await keep(next);
                stepping.current = { at: kept ? performance.now() : 0, value: next };
                return kept;
              });
            } else return;
          }}
        />
        <span
          className={`${props.compact ? "min-w-3" : props.counts ? "w-16 whitespace-nowrap" : "w-7"} text-xs text-faint`}
        >
          {props.counts && props.perSecond ? `f · ${(value / props.perSecond).toFixed(2)} s` : unit}
        </span>
      </div>
      {problem && (
        <p role="alert" className="mt-0.5 rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          {problem}
          {ways.map((way) => (
            <button
              type="button"
              key={way.label}
              className="mt-0.5 block font-semibold underline"
              onClick={async () => {
                const again = await way.act();
                if (again) return setProblem(again.detail);
                setText(null);
                setProblem(null);
              }}
            >
              {way.label}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}

const say = (value: number, digits: number) => (Number.isFinite(value) ? value.toFixed(digits) : "∞");
