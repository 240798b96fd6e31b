import { ask, client } from "../api/client";
import { useMoment } from "../store/moment";
import { complain } from "../store/view";

/** The film that the scene was opened from, and the reel in it; the address says. */
export function filmOf(): { film: number; reel: string } | null {
  const query = new URLSearchParams(location.search);
  const film = Number(query.get("film"));
  const reel = query.get("reel");
  return film && reel ? { film, reel } : null;
}

/** Go back to the film, to the frame that shows this moment of the cut; else to the beginning of the scene there. */
export async function backToFilm(): Promise<void> {
  const from = filmOf();
  if (!from) return;
  const asked = {
    params: { path: { film_id: from.film }, query: { reel: from.reel, cut: useMoment.getState().cut } },
  };
  const { data, problem } = await ask(client.GET("/api/films/{film_id}/frame", asked));
  if (!data) return void complain(problem);
  go(`/film/${from.film}?frame=${data.frame}`);
}

/** Open a frame of another scene of the same film. */
export function openInFilm({ scene, reel, cut }: { scene: number; reel: string; cut: number }): void {
  const from = filmOf();
  if (from) go(`/scene/${scene}?look=cut&frame=${cut}&film=${from.film}&reel=${reel}`);
}

function go(path: string): void {
  history.pushState(null, "", path);
  window.dispatchEvent(new PopStateEvent("popstate"));
}
