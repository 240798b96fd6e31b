import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../api/client";
import type { Problem } from "../api/types";
import { Button } from "../ui/button";
import { lately } from "../ui/when";

const HIGH = [270, 540, 720, 1080];
const STATES = {
  drawing: "drawing",
  joining: "joining the scenes",
  done: "done",
  failed: "not made",
  cancelled: "cancelled",
};

/** The film as one movie: asked for, followed, cancelled, downloaded. */
export function Movies({ film }: { film: number }) {
  const [high, setHigh] = useState(540);
  const [quality, setQuality] = useState<"quick" | "fine">("quick");
  const [problem, setProblem] = useState<Problem | null>(null);
  const path = { params: { path: { film_id: film } } };
  const { data, refetch } = useQuery({
    queryKey: ["film renders", film],
    queryFn: async () => (await ask(client.GET("/api/films/{film_id}/renders", path))).data ?? [],
    refetchInterval: ({ state }) =>
      state.data?.some((one) => one.state === "drawing" || one.state === "joining") ? 1000 : false,
  });
  const render = async () => {
    const body = { high, quality, slate: false };
    setProblem((await ask(client.POST("/api/films/{film_id}/renders", { ...path, body }))).problem);
    void refetch();
  };
  const cancel = async (render_id: number) => {
    await ask(client.POST("/api/films/renders/{render_id}/cancel", { params: { path: { render_id } } }));
    void refetch();
  };
  return (
    <section className="border-t border-line px-3 py-2.5 text-sm" aria-label="Movie of the film">
      <h2 className="heading mb-1.5">Movie</h2>
      <div className="flex gap-1">
        <select
          className="field min-w-0 flex-1"
          aria-label="Height of the movie"
          value={high}
          onChange={(e) => setHigh(Number(e.target.value))}
        >
          {HIGH.map((one) => (
            <option key={one} value={one}>
              {one} high
            </option>
          ))}
        </select>
        <select
          className="field min-w-0 flex-1"
          aria-label="Quality of the movie"
          value={quality}
          onChange={(e) => setQuality(e.target.value as typeof quality)}
        >
          <option value="quick">quick</option>
          <option value="fine">fine</option>
        </select>
        <Button tone="main" onClick={() => void render()}>
          Render
        </Button>
      </div>
      {problem && (
        <p role="alert" className="mt-1 text-brick">
          {problem.title} {problem.remedy}
        </p>
      )}
      {data?.map((one) => {
        const going = one.state === "drawing" || one.state === "joining";
        return (
          <div key={one.id} className="mt-2" data-render={one.state}>
            <div className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate">
                <b>{one.number}</b> {STATES[one.state]}
                {going && ` ${one.done} of ${one.of}`}{" "}
                <span className="text-faint">{!going && lately(one.at)}</span>
              </span>
              {one.movie && (
                <a className="text-slate underline" href={one.movie}>
                  Download
                </a>
              )}
              {going && <Button onClick={() => void cancel(one.id)}>Cancel</Button>}
            </div>
            {going && (
              <progress className="h-1.5 w-full accent-slate" value={one.done} max={Math.max(one.of, 1)} />
            )}
            {one.reason && <p className="text-brick">{one.reason}</p>}
          </div>
        );
      })}
    </section>
  );
}
