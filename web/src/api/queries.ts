import { queryOptions } from "@tanstack/react-query";
import { ask, client } from "./client";
import type { Catalogue } from "./types";

async function must<T>(call: Parameters<typeof ask<T>>[0]): Promise<T> {
  const { data, problem } = await ask(call);
  if (problem) throw new Error(problem.detail);
  return data;
}

export const sceneList = queryOptions({
  queryKey: ["scenes"],
  queryFn: () => must(client.GET("/api/scenes")),
});

export const catalogue = queryOptions({
  queryKey: ["catalogue"],
  queryFn: async () => (await must(client.GET("/api/catalogue"))) as Catalogue,
  staleTime: Number.POSITIVE_INFINITY,
});

export const history = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["history", sceneId, revision],
    queryFn: () =>
      must(client.GET("/api/scenes/{scene_id}/history", { params: { path: { scene_id: sceneId } } })),
    placeholderData: (previous) => previous,
  });
