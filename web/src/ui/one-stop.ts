import { type RefObject, useEffect } from "react";
import { buttonAt, keyboardIsOn } from "./left-behind";

const STOPS = "button, a[href], [role=button], [tabindex]";

/** Elements in the order in which they lie: by rows, and from left to right in each. */
function inRows(room: HTMLElement): HTMLElement[][] {
  const rows = new Map<number, HTMLElement[]>();
  for (const one of room.querySelectorAll<HTMLElement>(STOPS)) {
    const box = one.getBoundingClientRect();
    if (box.width === 0) continue;
    const lane = one.closest<HTMLElement>("[data-index]");
    const at = lane ? Number(lane.dataset.index) : Math.round((box.top + box.height / 2) / 8);
    rows.set(at, [...(rows.get(at) ?? []), one]);
  }
  const left = (one: HTMLElement) => one.getBoundingClientRect().left;
  return [...rows.entries()]
    .sort(([a], [b]) => a - b)
    .map(([, row]) => row.sort((a, b) => left(a) - left(b)));
}

/**
 * A list or strip that Tab comes to once: inside, up and down go from row to row, Ctrl with left and right along a row,
 * Home and End to its ends. What an element does with the arrows itself comes first.
 */
export function useOneStop(room: RefObject<HTMLElement | null>, there = true): void {
  useEffect(() => {
    const el = room.current;
    if (!el || !there) return;
    let stop: HTMLElement | null = null;
    const settle = () => {
      const all = [...el.querySelectorAll<HTMLElement>(STOPS)];
      if (!stop || !el.contains(stop)) stop = all[0] ?? null;
      for (const one of all) one.tabIndex = one === stop ? 0 : -1;
    };
    const focused = (e: FocusEvent) => {
      if (e.target instanceof HTMLElement && e.target.matches(STOPS) && e.target !== el) {
        stop = e.target;
        settle();
      }
    };
    const key = (e: KeyboardEvent) => {
      if (e.defaultPrevented || !(e.target instanceof HTMLElement)) return;
      if (e.target.closest("input, textarea, select")) return;
      // What was only clicked has been left behind: these keys are the desk's again.
      if (!keyboardIsOn(buttonAt(e.target))) return;
      const rows = inRows(el);
      const at = rows.findIndex((row) => row.includes(e.target as HTMLElement));
      if (at < 0) return;
      const row = rows[at];
      const place = row.indexOf(e.target);
      const ctrl = e.ctrlKey || e.metaKey;
      const near = (others: HTMLElement[] | undefined) => {
        const x = (e.target as HTMLElement).getBoundingClientRect().left;
        const far = (one: HTMLElement) => Math.abs(one.getBoundingClientRect().left - x);
        return others?.reduce((best, one) => (far(one) < far(best) ? one : best));
      };
      const to =
        e.key === "ArrowUp"
          ? near(rows[at - 1])
          : e.key === "ArrowDown"
            ? near(rows[at + 1])
            : ctrl && e.key === "ArrowLeft"
              ? row[place - 1]
              : ctrl && e.key === "ArrowRight"
                ? row[place + 1]
                : !ctrl && e.key === "Home"
                  ? row[0]
                  : !ctrl && e.key === "End"
                    ? row.at(-1)
                    : undefined;
      if (!to) return;
      e.preventDefault();
      e.stopPropagation();
      to.focus();
    };
    settle();
    const watch = new MutationObserver(settle);
    watch.observe(el, { childList: true, subtree: true });
    el.addEventListener("focusin", focused);
    el.addEventListener("keydown", key);
    return () => {
      watch.disconnect();
      el.removeEventListener("focusin", focused);
      el.removeEventListener("keydown", key);
    };
  }, [room, there]);
}
