import { Plus } from "lucide-react";
import { lazy, Suspense, useLayoutEffect, useRef, useState } from "react";
import { newCamera } from "../desk/verbs";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { lookThrough, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Caption } from "./caption";
import { LooseBar } from "./loose-bar";
import { Notices } from "./notices";

const Picture = lazy(() => import("./picture").then((m) => ({ default: m.Picture })));
const MAT = 14;

function Tabs() {
  const cameras = useDocument((s) => s.scene?.cameras) ?? [];
  const shots = useDocument((s) => s.scene?.shots.length) ?? 0;
  const through = useView((s) => s.through);
  const at = typeof through === "object" ? through.camera : through;
  const tab = (on: boolean) =>
    `flex h-7 shrink-0 items-center gap-1.5 rounded-[3px] border px-2 text-sm ${on ? "border-slate bg-slate-wash font-semibold" : "border-transparent hover:bg-well"}`;
  return (
    <div
      role="tablist"
      aria-label="Look through"
      className="flex items-center gap-1 overflow-x-auto px-2 py-1"
    >
      <button
        type="button"
        role="tab"
        aria-selected={at === "rover"}
        className={tab(at === "rover")}
        title="Look round freely; never records  (0)"
        onClick={() => lookThrough("rover")}
      >
        Rover
      </button>
      {cameras.map((camera, i) => (
        <button
          type="button"
          role="tab"
          key={camera.id}
          aria-selected={at === camera.id}
          aria-label={`Camera ${camera.letter} ${camera.name}`}
          title={`${camera.name}${i < 9 ? `  (${i + 1})` : ""}`}
          className={`${tab(at === camera.id)} ${camera.hidden ? "opacity-50" : ""}`}
          onClick={() => lookThrough({ camera: camera.id })}
        >
          <Letter letter={camera.letter} />
          {at === camera.id && <span className="max-w-44 truncate">{camera.name}</span>}
        </button>
      ))}
      <button
        type="button"
        role="tab"
        aria-selected={at === "cut"}
        disabled={shots === 0}
        className={`${tab(at === "cut")} disabled:opacity-40`}
        title="Watch the cut  (C)"
        onClick={() => lookThrough("cut")}
      >
        Cut
      </button>
      <span className="flex-1" />
      <Button tip="Make a camera from this view" hint="N" onClick={newCamera}>
        <Plus size={14} /> Camera
      </Button>
    </div>
  );
}

/** The picture in its mat, with what it shows said under it. */
export function Viewfinder() {
  const room = useRef<HTMLDivElement>(null);
  const [space, setSpace] = useState({ width: 0, height: 0 });
  const through = useView((s) => s.through);
  const aspect = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const black = useMoment((s) => s.gap) && through === "cut";

  // Before the first painting, so that the picture need not wait for a second one.
  useLayoutEffect(() => {
    const el = room.current;
    if (!el) return;
    const measure = () => setSpace({ width: el.clientWidth, height: el.clientHeight });
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    return () => watch.disconnect();
  }, []);

  const rover = through === "rover";
  const most = { width: space.width - 2 * MAT, height: space.height - 2 * MAT };
  const width = rover ? space.width : Math.floor(Math.min(most.width, most.height * aspect));
  const height = rover ? space.height : Math.round(width / aspect);
  return (
    <section aria-label="Viewfinder" className="flex h-full min-w-0 flex-col bg-paper">
      <Tabs />
      <div ref={room} className="relative min-h-0 flex-1 overflow-hidden bg-mat" data-testid="mat">
        {width > 10 && height > 10 && (
          <div
            data-testid="frame"
            className="absolute"
            style={{
              width,
              height,
              left: Math.round((space.width - width) / 2),
              top: Math.round((space.height - height) / 2),
            }}
          >
            <Suspense
              fallback={
                <p className="grid h-full place-items-center text-sm text-white/80">Drawing the stage…</p>
              }
            >
              <Picture />
            </Suspense>
            {black && (
              <div
                className="absolute inset-0 grid place-items-center bg-black text-sm text-white/60"
                data-testid="black"
              >
                Gap: plays black
              </div>
            )}
          </div>
        )}
        <Notices />
        <EmptyHint />
      </div>
      <LooseBar />
      <Caption />
    </section>
  );
}

function EmptyHint() {
  const scene = useDocument((s) => s.scene);
  const tool = useView((s) => s.tool);
  if (!scene || scene.figures.length + scene.pieces.length + scene.cameras.length > 0 || tool !== "select")
    return null;
  return (
    <div className="pointer-events-none absolute inset-x-0 bottom-6 grid place-items-center">
      <p className="max-w-96 rounded bg-sheet/95 px-4 py-3 text-sm text-ink">
        An empty stage. Choose <b>Figure</b> or a set piece over the plan and point at where it goes. When a
        view here is good, press <b>N</b> to make a camera from it.
      </p>
    </div>
  );
}

export function useSeenCamera() {
  const through = useView((s) => s.through);
  const scene = useDocument((s) => s.shown);
  const shot = useMoment((s) => s.shot);
  const gap = useMoment((s) => s.gap);
  if (through === "rover" || !scene) return undefined;
  if (through === "cut") return gap ? undefined : itemOf(scene, "cameras", scene.shots[shot]?.camera ?? null);
  return itemOf(scene, "cameras", through.camera);
}
