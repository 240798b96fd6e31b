import { create } from "zustand";
import type { SceneLine } from "../api/types";
import { drawnSmall } from "../picture/drawer";

const HIGH = 216;

/** Pictures that were drawn here because what is kept is older than its scene, by scene: addresses. */
export const useDrawn = create<Record<number, { revision: number; url: string }>>(() => ({}));

const waiting: SceneLine[] = [];
let leaves = new AbortController();
let busy = false;

/** Have the picture of a scene drawn, after those asked for before it. */
export function wantPicture(line: SceneLine): void {
  if (!line.pictured || waiting.some((one) => one.id === line.id)) return;
  waiting.push(line);
  void drawThem();
}

/** Whoever leaves the list wants none of them. */
export function wantNone(): void {
  waiting.length = 0;
  leaves.abort();
  leaves = new AbortController();
}

async function drawThem(): Promise<void> {
  if (busy) return;
  busy = true;
  const { signal } = leaves;
  for (let line = waiting.shift(); line; line = waiting.shift()) {
    if (!line.pictured || useDrawn.getState()[line.id]?.revision === line.revision) continue;
    try {
      const picture = await drawnSmall(line.id, line.pictured, HIGH, signal);
      signal.throwIfAborted();
      useDrawn.setState({ [line.id]: { revision: line.revision, url: URL.createObjectURL(picture) } });
      // Kept for the next time; who may only look keeps none.
      void fetch(`/api/scenes/${line.id}/picture?of=${line.revision}`, { method: "PUT", body: picture });
    } catch {
      // A scene that cannot be drawn has no picture.
    }
    if (signal.aborted) break;
  }
  busy = false;
  if (waiting.length) void drawThem();
}
