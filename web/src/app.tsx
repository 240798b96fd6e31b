import { lazy, Suspense, useEffect, useState } from "react";
import { type Place, readPlace } from "./desk/place";
import { expectScene } from "./store/sending";
import { fetched } from "./ui/fetched";

const DrawPage = lazy(() =>
  fetched(() => import("./dailies/draw-page")).then((m) => ({ default: m.DrawPage })),
);
const Desk = lazy(() => fetched(() => import("./desk/desk")));
const SceneList = lazy(() =>
  fetched(() => import("./scenes/scene-list")).then((m) => ({ default: m.SceneList })),
);

const FilmPage = lazy(() => fetched(() => import("./film/film-page")).then((m) => ({ default: m.FilmPage })));

// All that a scene's address will need, asked for at once instead of one after the other.
const first = readPlace();
if (first) {
  import("./desk/desk").catch(() => undefined);
  import("./picture/picture").catch(() => undefined);
  expectScene(first.scene, first.look);
}

/** Which page the address names: the list of scenes, or a scene on the desk. */
export function App() {
  const draws = location.pathname.match(/^\/draw\/(\d+)$/);
  return draws ? (
    <Suspense>
      <DrawPage scene={Number(draws[1])} />
    </Suspense>
  ) : (
    <Pages />
  );
}

/** The film that the address names, and the frame of it. */
function readFilm(): { id: number; at: number } | null {
  const match = location.pathname.match(/^\/film\/(\d+)\/?$/);
  const at = Number.parseInt(new URLSearchParams(location.search).get("frame") ?? "0", 10);
  return match ? { id: Number(match[1]), at: Number.isNaN(at) ? 0 : at } : null;
}

function Pages() {
  const [place, setPlace] = useState<Place | null>(readPlace);
  const [film, setFilm] = useState(readFilm);
  useEffect(() => {
    // Within a scene the desk itself goes back to its last view.
    const read = () => {
      setFilm(readFilm());
      setPlace((was) => {
        const now = readPlace();
        return was && now && was.scene === now.scene ? was : now;
      });
    };
    window.addEventListener("popstate", read);
    return () => window.removeEventListener("popstate", read);
  }, []);
  const go = (path: string) => {
    history.pushState(null, "", path);
    setFilm(readFilm());
    setPlace(readPlace());
  };
  const open = (id: number | null) => go(id === null ? "/" : `/scene/${id}`);
  if (film)
    return (
      <Suspense>
        <FilmPage key={film.id} id={film.id} at={film.at} onGo={go} />
      </Suspense>
    );
  if (!place)
    return (
      <Suspense>
        <SceneList onOpen={open} onGo={go} />
      </Suspense>
    );
  return (
    <Suspense fallback={<p className="p-8 text-faint">Opening the desk…</p>}>
      <Desk key={place.scene} place={place} onLeave={() => open(null)} />
    </Suspense>
  );
}
