import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { catalogue, rateName } from "../api/catalogue";
import { ask, client, sendFile } from "../api/client";
import { filmList, sceneList } from "../api/queries";
import type { FilmLine, Problem, SceneLine, Schemas } from "../api/types";
import { notice } from "../store/view";
import { Button } from "../ui/button";
import { Films } from "./films";
import { wantNone } from "./pictures";
import { SceneRow } from "./scene-row";
import { Trash } from "./trash";

/** In which order scenes are listed; they come the last change first. */
const ORDERS = {
  changed: { name: "Last change first", by: () => 0 },
  name: { name: "By name", by: (a: SceneLine, b: SceneLine) => a.name.localeCompare(b.name) },
  cut: { name: "Longest cut first", by: (a: SceneLine, b: SceneLine) => b.cut - a.cut },
  film: { name: "By film", by: () => 0 },
};

/** Scenes under the films that show them, in the film's order, and those in none; without films, all in one. */
function grouped(scenes: SceneLine[], films: FilmLine[] | null): { name: string; scenes: SceneLine[] }[] {
  if (!films) return scenes.length ? [{ name: "", scenes }] : [];
  const shown = new Set(films.flatMap((film) => film.scenes));
  const groups = films.map((film) => ({
    name: film.name,
    scenes: [...new Set(film.scenes)].flatMap((id) => scenes.filter((scene) => scene.id === id)),
  }));
  const none = { name: "In no film", scenes: scenes.filter((scene) => !shown.has(scene.id)) };
  return [...groups, none].filter((group) => group.scenes.length);
}

export function SceneList({ onOpen, onGo }: { onOpen: (id: number) => void; onGo: (path: string) => void }) {
  const { data, error } = useQuery(sceneList);
  const { data: films } = useQuery(filmList);
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const [rate, setRate] = useState("24/1");
  const [delivery, setDelivery] = useState("16:9");
  const [problem, setProblem] = useState<Problem | null>(null);
  const [sought, setSought] = useState("");
  const [order, setOrder] = useState<keyof typeof ORDERS>("changed");
  const opened = (answer: Awaited<ReturnType<typeof ask<{ id: number }>>>) => {
    setProblem(answer.problem);
    if (answer.data) {
      void queries.invalidateQueries({ queryKey: ["scenes"] });
      onOpen(answer.data.id);
    }
  };
  const create = async () =>
    opened(
      await ask(
        client.POST("/api/scenes", { body: { name: name.trim() || "Untitled scene", rate, delivery } }),
      ),
    );
  const bring = async (chosen: File | undefined) => {
    if (!chosen) return;
    if (/\.zip$/i.test(chosen.name)) {
      const { data, problem } = await sendFile<Schemas["ImportedOut"]>("/api/scenes/import/package", chosen);
      if (!data) return setProblem(problem);
      if (data.lost.length)
        notice(`${data.lost.length} of its files were missing when it was packed.`, "Bring them in again.");
      return opened({ data: { id: data.scene }, problem: null });
    }
    try {
      const body = JSON.parse(await chosen.text());
      opened(await ask(client.POST("/api/scenes/import", { body })));
    } catch {
      const title = `${chosen.name} is not JSON, so it is not a scene.`;
      setProblem({ title, detail: title, remedy: "Choose a scene saved from the desk.", status: 400 });
    }
  };
  const done = async (answer: Promise<{ problem: Problem | null }>) => {
    setProblem((await answer).problem);
    void queries.invalidateQueries({ queryKey: ["scenes"] });
  };
  const found = (data ?? [])
    .filter((scene) => scene.name.toLowerCase().includes(sought.trim().toLowerCase()))
    .sort(ORDERS[order].by);
  useEffect(() => wantNone, []);

  return (
    <main className="mx-auto h-full max-w-5xl overflow-auto px-8 py-10">
      <h1 className="text-2xl font-semibold">Mellow Heron</h1>
      <p className="mb-8 text-faint">Stage cameras around figures, choose lenses, and cut between angles.</p>
      {(problem || error) && (
        <p role="alert" className="mb-4 rounded bg-brick-wash px-3 py-2 text-brick">
          {problem ? `${problem.title} ${problem.remedy}` : (error as Error).message}
        </p>
      )}
      <div className="grid grid-cols-[1fr_17rem] gap-10">
        <section>
          <Films onGo={onGo} />
          <div className="mb-2 flex items-center gap-2">
            <h2 className="heading flex-1">Scenes</h2>
            <input
              type="search"
              className="field w-44"
              placeholder="Find by name"
              aria-label="Find a scene by name"
              value={sought}
              onChange={(e) => setSought(e.target.value)}
            />
            <select
              className="field"
              aria-label="Order of scenes"
              value={order}
              onChange={(e) => setOrder(e.target.value as typeof order)}
            >
              {Object.entries(ORDERS).map(([key, { name }]) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ))}
            </select>
          </div>
          {data?.length === 0 && (
            <p className="text-faint">None yet. Begin one on the right, or open a scene file.</p>
          )}
          {data && data.length > 0 && found.length === 0 && (
            <p className="text-faint">No scene is called “{sought}”.</p>
          )}
          {grouped(found, order === "film" ? (films ?? []) : null).map(({ name, scenes }) => (
            <div key={name}>
              {name && <h3 className="mt-3 mb-1 text-sm font-semibold">{name}</h3>}
              <ul className="divide-y divide-line border-y border-line">
                {scenes.map((scene) => (
                  <SceneRow key={scene.id} scene={scene} onOpen={onOpen} done={done} />
                ))}
              </ul>
            </div>
          ))}
          <Trash done={done} />
        </section>
        <form
          className="flex flex-col gap-2 text-sm"
          onSubmit={(e) => {
            e.preventDefault();
            void create();
          }}
        >
          <h2 className="heading">Begin an empty scene</h2>
          <label>
            <span className="text-faint">Name</span>
            <input
              className="field w-full"
              value={name}
              placeholder="Untitled scene"
              onChange={(e) => setName(e.target.value)}
            />
          </label>
          <label>
            <span className="text-faint">Frames a second</span>
            <select className="field w-full" value={rate} onChange={(e) => setRate(e.target.value)}>
              {catalogue.rates.map((r) => (
                <option key={r} value={r}>
                  {rateName(r)}
                </option>
              ))}
            </select>
          </label>
          <label>
            <span className="text-faint">Delivery aspect</span>
            <input
              className="field w-full"
              list="deliveries"
              value={delivery}
              onChange={(e) => setDelivery(e.target.value)}
            />
            <datalist id="deliveries">
              {catalogue.deliveries.map((d) => (
                <option key={d.label} value={d.label} />
              ))}
            </datalist>
          </label>
          <Button type="submit" tone="main" className="mt-1">
            Begin
          </Button>
          <h2 className="heading mt-5">Or open a scene or a package</h2>
          <input
            ref={file}
            type="file"
            accept=".json,application/json,.zip"
            hidden
            onChange={(e) => bring(e.target.files?.[0])}
          />
          <Button onClick={() => file.current?.click()}>Choose a file…</Button>
        </form>
      </div>
    </main>
  );
}
