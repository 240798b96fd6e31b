import { queryOptions } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import type { PlanOut, Problem, Render, Take, TakeWhole } from "../api/types";
import { useDocument } from "../store/document";
import { complain, notice, useView } from "../store/view";

/** Heights that are asked for often, in pixels. */
export const HEIGHTS = [540, 720, 1080, 2160].map((value) => ({ value }));

export const UNFINISHED = ["waiting", "drawing", "packing"];
export const underWay = (take: Take): boolean => UNFINISHED.includes(take.state);

async function must<T>(call: Parameters<typeof ask<T>>[0]): Promise<T> {
  const { data, problem } = await ask(call);
  if (problem) throw new Error(problem.detail);
  return data;
}

/** Everything under way and what ended lately; asked again often while something goes on. */
export const jobs = queryOptions({
  queryKey: ["takes"],
  queryFn: async () => (await must(client.GET("/api/takes"))) as Take[],
  refetchInterval: ({ state }) => (state.data?.some(underWay) ? 1000 : 6000),
});

export const takesOf = (scene: number) =>
  queryOptions({
    queryKey: ["takes", "of", scene],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/takes", { params: { path: { scene_id: scene } } }),
      )) as Take[],
    refetchInterval: ({ state }) => (state.data?.some(underWay) ? 1500 : 10_000),
  });

export const wholeTake = (take: number, state: string) =>
  queryOptions({
    queryKey: ["take", take, state],
    queryFn: async () =>
      (await must(client.GET("/api/takes/{take_id}", { params: { path: { take_id: take } } }))) as TakeWhole,
    placeholderData: (previous) => (previous?.take.id === take ? previous : undefined),
  });

export const against = (take: number, other: number, by: "cut" | "stage") =>
  queryOptions({
    queryKey: ["against", take, other, by],
    queryFn: () =>
      must(
        client.GET("/api/takes/{take_id}/against/{other_id}", {
          params: { path: { take_id: take, other_id: other }, query: { by } },
        }),
      ),
    placeholderData: (previous) => previous,
  });

export const workers = queryOptions({
  queryKey: ["workers"],
  queryFn: () => must(client.GET("/api/workers")),
  refetchInterval: 5000,
});

export const presets = queryOptions({
  queryKey: ["presets"],
  queryFn: () => must(client.GET("/api/presets")),
});

export const room = queryOptions({
  queryKey: ["media"],
  queryFn: () => must(client.GET("/api/media")),
  refetchInterval: 5000,
});

/** What most renders are: a movie of the cut with a slate, drawn quickly. */
export const MOVIE: Render = {
  of: "cut", shots: [], camera: null, frames: null, high: 540, quality: "quick", seconds: 2, spare: 0, slate: true, said: false,
  lines: [], safe: "smpte", protect: "9:16", leader: false, pictures: "none", jpeg: 90, movie: true, movie_factor: 20, note: "", judge: "", mirrored: false,
}; // biome-ignore format: one order
export const PICTURES: Render = { ...MOVIE, movie: false, pictures: "png", slate: false };

/** What a render would come to, or why it would not. */
export const wouldBe = (scene: number, revision: number, render: Render) =>
  queryOptions({
    queryKey: ["would-be", scene, revision, { ...render, note: "" }],
    queryFn: async (): Promise<{ plan: PlanOut | null; problem: Problem | null }> => {
      const { data, problem } = await ask(
        client.POST("/api/scenes/{scene_id}/takes/plan", {
          params: { path: { scene_id: scene } },
          body: render,
        }),
      );
      return { plan: data as PlanOut | null, problem };
    },
    placeholderData: (previous) => previous,
  });

/** Have the scene rendered as it is now, and show how far it is. */
export async function beginRender(render: Render): Promise<Problem | null> {
  const { id } = useDocument.getState();
  if (id === null) return null;
  const { data, problem } = await ask(
    client.POST("/api/scenes/{scene_id}/takes", { params: { path: { scene_id: id } }, body: render }),
  );
  if (problem) {
    complain(problem);
    return problem;
  }
  const take = data as Take;
  const left = take.frames - take.done;
  notice(
    take.done
      ? `Take ${take.number}: ${take.done} of ${take.frames} frames are unchanged; ${left ? `${left} to render.` : "nothing to render."}`
      : `Take ${take.number}: ${take.frames} frames to render.`,
    "",
    false,
  );
  useView.setState({ side: "jobs" });
  return null;
}

/** Something done with a take; a refusal is said. */
export async function act(take: number, what: "cancel" | "again"): Promise<void> {
  const path = { params: { path: { take_id: take } } };
  const { problem } = await ask(
    what === "cancel"
      ? client.POST("/api/takes/{take_id}/cancel", path)
      : client.POST("/api/takes/{take_id}/again", path),
  );
  complain(problem);
}

export async function cancelAll(): Promise<void> {
  complain((await ask(client.POST("/api/takes/cancel"))).problem);
}

export async function deleteTake(take: number): Promise<boolean> {
  const { problem } = await ask(
    client.DELETE("/api/takes/{take_id}", { params: { path: { take_id: take } } }),
  );
  return complain(problem);
}

/** Bytes in words. */
export function bytes(count: number): string {
  const units = ["B", "kB", "MB", "GB"];
  let [n, unit] = [count, 0];
  while (n >= 1000 && unit < units.length - 1) [n, unit] = [n / 1000, unit + 1];
  return `${n < 10 && unit ? n.toFixed(1) : Math.round(n)} ${units[unit]}`;
}

/** Seconds in words, for waiting. */
export function span(seconds: number): string {
  if (seconds < 60) return `${Math.max(Math.round(seconds), 1)} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} min` : `${(minutes / 60).toFixed(1)} h`;
}
