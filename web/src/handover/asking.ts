import { queryOptions } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import type { Problem, Schemas } from "../api/types";

export type HandOverRequest = Schemas["HandOverRequest"];
export type HandedOver = Schemas["RecordOut"];
export type Job = Schemas["HandOverJobOut"];

/** What can be handed over of a scene, what was, and what changed since. */
export const handed = (scene_id: number, revision: number) =>
  queryOptions({
    queryKey: ["handed", scene_id, revision],
    queryFn: async () => {
      const { data, problem } = await ask(
        client.GET("/api/scenes/{scene_id}/handovers", { params: { path: { scene_id } } }),
      );
      if (!data) throw new Error(problem?.detail);
      return data;
    },
    // The list of things stays while it is asked for again.
    placeholderData: (before) => before,
  });

/** The files that a hand-over would write, or why it cannot be. */
export const wouldWrite = (scene_id: number, revision: number, what: HandOverRequest) =>
  queryOptions({
    queryKey: ["handed", "plan", scene_id, revision, what],
    queryFn: async (): Promise<{ files: Schemas["PlannedOut"][]; problem: Problem | null }> => {
      const { data, problem } = await ask(
        client.POST("/api/scenes/{scene_id}/handovers/plan", {
          params: { path: { scene_id } },
          body: what,
        }),
      );
      return { files: data ?? [], problem };
    },
    placeholderData: (before) => before,
  });

const ASK_MS = 300;

/** Hand over, told of until it has ended. */
export async function handOver(
  scene_id: number,
  what: HandOverRequest,
  folder: boolean,
  tell: (job: Job) => void,
): Promise<{ job: Job | null; problem: Problem | null }> {
  const begun = await ask(
    client.POST("/api/scenes/{scene_id}/handovers", {
      params: { path: { scene_id } },
      body: { what, folder },
    }),
  );
  if (!begun.data) return { job: null, problem: begun.problem };
  let job: Job = begun.data;
  tell(job);
  while (job.state === "waiting" || job.state === "writing") {
    await new Promise((go) => setTimeout(go, ASK_MS));
    const next = await ask(
      client.GET("/api/handovers/jobs/{job_id}", { params: { path: { job_id: job.id } } }),
    );
    if (!next.data) return { job: null, problem: next.problem };
    job = next.data;
    tell(job);
  }
  return { job, problem: null };
}

/** Write no further. */
export const stopHandOver = (job: Job) =>
  client.DELETE("/api/handovers/jobs/{job_id}", { params: { path: { job_id: job.id } } });

/** Fetch all files of a hand-over as a zip. */
export function download(record: HandedOver): void {
  const link = document.createElement("a");
  link.href = `/api/handovers/${record.id}/download`;
  link.download = "";
  link.click();
}
