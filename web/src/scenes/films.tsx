import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { rateName } from "../api/catalogue";
import { ask, client } from "../api/client";
import { filmList } from "../api/queries";
import { Button } from "../ui/button";
import { when } from "../ui/when";

/** Films: scenes one after the other. */
export function Films({ onGo }: { onGo: (path: string) => void }) {
  const { data } = useQuery(filmList);
  const [name, setName] = useState("");
  const [sure, setSure] = useState<number | null>(null);
  const queries = useQueryClient();
  const remove = async (film_id: number) => {
    await ask(client.DELETE("/api/films/{film_id}", { params: { path: { film_id } } }));
    setSure(null);
    void queries.invalidateQueries({ queryKey: ["films"] });
  };
  const begin = async () => {
    const body = { name: name.trim() || "Untitled film", scenes: [] };
    const { data: film } = await ask(client.POST("/api/films", { body }));
    if (film) onGo(`/film/${film.id}`);
  };
  return (
    <div className="mb-8">
      <h2 className="heading mb-2">Films</h2>
      <ul className="divide-y divide-line border-y border-line empty:hidden">
        {data?.map((film) => (
          <li key={film.id} className="flex items-center gap-2 py-2">
            <button
              type="button"
              className="min-w-0 flex-1 text-left hover:text-slate"
              onClick={() => onGo(`/film/${film.id}`)}
            >
              <span className="block truncate text-base font-semibold">{film.name}</span>
              <span className="block text-sm text-faint">
                {film.scenes.length} scene{film.scenes.length === 1 ? "" : "s"} at {rateName(film.rate)} fps ·{" "}
                {when(film.changed)}
              </span>
            </button>
            {sure === film.id ? (
              <>
                <Button tone="wrong" onClick={() => void remove(film.id)}>
                  Delete the film
                </Button>
                <Button onClick={() => setSure(null)}>Keep</Button>
              </>
            ) : (
              <>
                <Button tone="main" onClick={() => onGo(`/film/${film.id}`)}>
                  Open
                </Button>
                <Button tip="Its scenes stay" onClick={() => setSure(film.id)}>
                  Delete…
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          placeholder="Name of a new film"
          aria-label="Name of a new film"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit">Begin a film</Button>
      </form>
    </div>
  );
}
