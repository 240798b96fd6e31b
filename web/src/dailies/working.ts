import { ask, client } from "../api/client";
import type { Problem } from "../api/types";
import type { How } from "../picture/drawer";
import { askMix } from "../picture/mixing";
import { useDocument } from "../store/document";
import { drawAsShot } from "../store/dressing";
import { drawFrame, drawSilhouettes, GraphicsLost, Unwanted } from "./drawn";

/** Quick frames are claimed some at a time, so that asking costs little; others one by one. */
const AT_ONCE = 4;
/** Pictures on their way to the server while the next one is drawn. */
const ON_THEIR_WAY = 2;
/** While others draw the rest, it is asked again so often whether one of them stopped. */
const WAIT_MS = 1500;
/** A server that does not answer may be starting again: so often it is asked. */
const PATIENCE = 60;

const soon = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** An answer, from a server that may be starting again. */
async function patiently<T>(
  call: () => Promise<{ data: T; problem: null } | { data: null; problem: Problem }>,
): Promise<T> {
  for (let tries = 0; ; tries++) {
    const { data, problem } = await call();
    if (!problem) return data as T;
    if (problem.status !== 0 || tries >= PATIENCE) throw new Error(problem.detail);
    await soon(1000);
  }
}

const sendPicture = (take: number, place: number, content: Blob) =>
  ask<{ wanted: boolean }>(
    fetch(`/api/takes/${take}/frames/${place}/picture`, {
      method: "POST",
      body: content,
      headers: { "Content-Type": "image/png" },
    }).then(async (response) => {
      const said = await response.json();
      return response.ok ? { data: said, response } : { error: said, response };
    }),
  );

/** The shot of a name; a picture outside the cut is of none. */
const shotCalled = (name: string): string | null =>
  useDocument.getState().scene?.shots.find((shot) => shot.name === name)?.id ?? null;

/** Draw frames of a take, claimed one after the other, until nothing more of it is wanted from here. */
export async function work(
  take: number,
  by: string,
  size: [number, number],
  signal?: AbortSignal,
  progress: () => void = () => {},
): Promise<void> {
  const path = { take_id: take };
  let wanted = true;
  let heard = performance.now();
  let every = Number.POSITIVE_INFINITY;
  const beat = setInterval(() => {
    if (performance.now() - heard < every * 1000) return;
    heard = performance.now();
    void ask(client.POST("/api/takes/{take_id}/at-it", { params: { path }, body: { by } })).then(
      ({ data }) => {
        if (data && !data.wanted) wanted = false;
      },
    );
  }, 500);
  const sending = new Set<Promise<void>>();
  let trouble: Error | null = null;
  const send = (place: number, png: Promise<Blob>) => {
    const sent = png
      .then((content) => patiently(() => sendPicture(take, place, content)))
      .then(
        (answer) => {
          if (!answer.wanted) wanted = false;
          progress();
        },
        (error) => {
          trouble = error;
        },
      );
    sending.add(sent);
    void sent.finally(() => sending.delete(sent));
  };
  try {
    for (;;) {
      if (signal?.aborted) return;
      const claim = await patiently(() =>
        ask(client.POST("/api/takes/{take_id}/claim", { params: { path }, body: { by, count: AT_ONCE } })),
      );
      if (!claim.wanted) return;
      every = claim.beat;
      const how: How =
        claim.quality === "fine"
          ? { quality: "fine", drawings: claim.drawings }
          : claim.quality === "timed"
            ? { quality: "timed", seconds: claim.seconds }
            : { quality: "quick" };
      drawSilhouettes(claim.silhouettes);
      if (claim.frames.length === 0) await soon(WAIT_MS);
      for (const { place, camera, stage, shot, mixed } of claim.frames) {
        if (!wanted || signal?.aborted) return;
        try {
          askMix(mixed);
          drawAsShot(shotCalled(shot));
          const unwanted = () => !wanted || Boolean(signal?.aborted);
          send(place, (await drawFrame(camera, stage, how, size, undefined, unwanted)).png);
        } catch (error) {
          if (error instanceof Unwanted) return;
          // The frame is not to blame: whoever opened this page opens another.
          if (error instanceof GraphicsLost) throw error;
          const reason = error instanceof Error ? error.message : "It could not be drawn.";
          await patiently(() =>
            ask(
              client.POST("/api/takes/{take_id}/frames/{place}/failed", {
                params: { path: { ...path, place } },
                body: { reason },
              }),
            ),
          );
        }
        while (sending.size >= ON_THEIR_WAY) await Promise.race(sending);
        if (trouble) throw trouble;
      }
    }
  } catch (error) {
    const reason = error instanceof Error ? error.message : "Drawing stopped.";
    if (error instanceof GraphicsLost && !signal) throw error;
    await ask(client.POST("/api/takes/{take_id}/trouble", { params: { path }, body: { reason } }));
  } finally {
    clearInterval(beat);
    await Promise.all(sending);
  }
}
