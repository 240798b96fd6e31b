import { create } from "zustand";
import type { Take } from "../api/types";
import { openDrawer } from "../picture/drawer";
import { notice } from "../store/view";

/** Which take is drawn by this very tab, where there is nobody else to draw it. */
export const useInTab = create<{ take: number | null }>(() => ({ take: null }));

let stop: AbortController | null = null;
/** By what name this tab claims frames. */
const ME = `tab-${Math.random().toString(36).slice(2, 10)}`;

/** Draw a take's frames here, until there are none left or it is stopped. */
export async function drawHere(take: Take, progress: () => void): Promise<void> {
  stopHere();
  const mine = new AbortController();
  stop = mine;
  useInTab.setState({ take: take.id });
  try {
    const one = await openDrawer(take.frozen, take.wide, take.high, mine.signal);
    await one.work(take.id, ME, mine.signal, progress);
    one.close();
  } catch (error) {
    if (!mine.signal.aborted)
      notice(error instanceof Error ? error.message : "The take could not be drawn here.", "Try again.");
  } finally {
    if (stop === mine) {
      stop = null;
      useInTab.setState({ take: null });
    }
    progress();
  }
}

/** Stop drawing here; what was drawn stays. */
export function stopHere(): void {
  stop?.abort();
  stop = null;
  useInTab.setState({ take: null });
}
