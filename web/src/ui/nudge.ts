/** Steps asked for faster than they can be carried out: they add up, and each turn takes all that waits. */
interface Waiting {
  by: number[];
  act: (by: number[]) => Promise<boolean>;
}

const waiting = new Map<string, Waiting>();
const busy = new Set<string>();

/**
 * Move something by steps. Those that come while an earlier one is under way are summed and done in one; where one is
 * refused (`act` says false), those that wait behind it are dropped.
 */
export async function nudge(
  what: string,
  by: number[],
  act: (by: number[]) => Promise<boolean>,
): Promise<void> {
  const before = waiting.get(what)?.by ?? by.map(() => 0);
  waiting.set(what, { by: by.map((step, i) => step + before[i]), act });
  if (busy.has(what)) return;
  busy.add(what);
  try {
    for (let next = waiting.get(what); next; next = waiting.get(what)) {
      waiting.delete(what);
      if (!(await next.act(next.by))) waiting.delete(what);
    }
  } finally {
    busy.delete(what);
  }
}
