const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
const TIME = new Intl.DateTimeFormat("en-GB", { timeStyle: "medium" });

/** "26 Nov 2026, 10:37", from a moment as the server tells it. */
export const when = (moment: string): string => DAY.format(new Date(moment));

/** "10:37:04" of today, else the day too. */
export function lately(moment: string): string {
  const at = new Date(moment);
  return at.toDateString() === new Date().toDateString() ? TIME.format(at) : DAY.format(at);
}
