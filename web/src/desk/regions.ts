/** The parts of the desk in the order in which F6 goes round them. */
const REGIONS = ["Plan", "Viewfinder", "Card", "Assembly", "Top"];

/** The next part of the desk, or the one before: the keyboard goes to what is in use there, else to its first control. */
export function goRegion(by: 1 | -1): void {
  const parts = REGIONS.map((name) => document.querySelector<HTMLElement>(`[data-region="${name}"]`));
  const now = parts.findIndex((part) => part?.contains(document.activeElement));
  for (let k = 1; k <= parts.length; k++) {
    const at = ((now < 0 && by < 0 ? 0 : now) + by * k + parts.length * 2) % parts.length;
    const part = parts[at];
    const inside = part && firstIn(part);
    if (!inside) continue;
    inside.focus();
    return;
  }
}

function firstIn(part: HTMLElement): HTMLElement | null {
  const own = part.querySelector<HTMLElement>("[data-region-start]");
  if (own) return own;
  const all = part.querySelectorAll<HTMLElement>(
    "[tabindex='0'], a[href], button:not(:disabled):not([tabindex='-1']), input:not(:disabled), select:not(:disabled)",
  );
  return [...all].find((one) => one.getBoundingClientRect().width > 0) ?? null;
}
