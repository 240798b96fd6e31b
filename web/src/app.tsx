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

function Pages() {
  const [place, setPlace] = useState<Place | null>(readPlace);
  useEffect(() => {
    // Within a scene the desk itself goes back to its last view.
    const read = () =>
      setPlace((was) => {
        const now = readPlace();
        return was && now && was.scene === now.scene ? was : now;
      });
    window.addEventListener("popstate", read);
    return () => window.removeEventListener("popstate", read);
  }, []);
  const open = (id: number | null) => {
    history.pushState(null, "", id === null ? "/" : `/scene/${id}`);
    setPlace(readPlace());
  };
  if (!place)
    return (
      <Suspense>
        <SceneList onOpen={open} />
      </Suspense>
    );
  return (
    <Suspense fallback={<p className="p-8 text-faint">Opening the desk…</p>}>
      <Desk key={place.scene} place={place} onLeave={() => open(null)} />
    </Suspense>
  );
}
