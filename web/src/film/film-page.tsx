import { useQuery } from "@tanstack/react-query";
import {
  ChevronFirst,
  ChevronLast,
  FileDown,
  Pause,
  Play,
  Redo2,
  StepBack,
  StepForward,
  Undo2,
} from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { rateName } from "../api/catalogue";
import { ask, client } from "../api/client";
import { sceneList } from "../api/queries";
import { showTimecode } from "../api/samples";
import type { Problem } from "../api/types";
import { Button } from "../ui/button";
import { TextField } from "../ui/text-field";
import {
  edit,
  type FilmOut,
  goShot,
  goTo,
  openFilm,
  pause,
  sceneAt,
  shownAt,
  toggle,
  turn,
  useFilm,
} from "./film";
import { Movies } from "./movies";
import { ReelCard } from "./reel-card";
import { Screen } from "./screen";
import { Strip } from "./strip";

const KEYS: Record<string, () => void> = {
  " ": toggle,
  ArrowLeft: () => step(-1),
  ArrowRight: () => step(1),
  Home: () => goTo(0),
  End: () => goTo(Number.MAX_SAFE_INTEGER),
  PageDown: () => goShot(1),
  PageUp: () => goShot(-1),
};

function step(by: number): void {
  pause();
  goTo(useFilm.getState().frame + by);
}

/** A film: its scenes one after the other, played, put in order and handed over. */
export function FilmPage({ id, at, onGo }: { id: number; at: number; onGo: (path: string) => void }) {
  const { film, frame, playing, reel, problem, said, timecodes } = useFilm();
  const [size, setSize] = useState<[number, number]>([0, 0]);
  const room = useRef<HTMLDivElement>(null);
  useEffect(() => {
    useFilm.setState({ film: null, frame: 0, reel: null, problem: null, said: "" });
    void openFilm(id).then(() => goTo(at));
    return pause;
  }, [id, at]);
  useEffect(() => {
    const element = room.current;
    if (!element) return;
    let timer = 0;
    const fit = () => {
      const [w, h] = [element.clientWidth, element.clientHeight];
      const wide = Math.floor(Math.min(w, (h * 16) / 9));
      setSize([wide, Math.floor((wide * 9) / 16)]);
    };
    const seen = new ResizeObserver(() => {
      window.clearTimeout(timer);
      timer = window.setTimeout(fit, 150);
    });
    seen.observe(element);
    fit();
    return () => seen.disconnect();
  }, []);
  const openShot = (where: number) => {
    const path = sceneAt(where);
    if (path) onGo(path);
  };
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (target.closest("input, select")) return;
      const undo = (e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z";
      const act = undo
        ? () => void turn(e.shiftKey ? "redo" : "undo")
        : e.key === "Enter" && !target.closest("button")
          ? () => openShot(useFilm.getState().frame)
          : target.closest("button") && e.key === " "
            ? undefined
            : KEYS[e.key];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  });
  // The address says where one is, for a reload and for a colleague.
  useEffect(() => {
    if (!film || playing) return;
    const note = () => {
      // Somebody may have gone on to a scene, which is still being fetched.
      if (location.pathname === `/film/${film.id}`)
        history.replaceState(null, "", `/film/${film.id}?frame=${frame}`);
    };
    const timer = window.setTimeout(note, 250);
    return () => window.clearTimeout(timer);
  }, [film, frame, playing]);
  const shown = shownAt(film, frame);
  const shot = shown?.reel.shots.find((one) => one.film[0] <= frame && frame <= one.film[1]);
  return (
    <main className="flex h-full min-h-[600px] min-w-[1000px] flex-col overflow-hidden">
      <header className="flex h-11 items-center gap-2 border-b border-line px-3">
        <button type="button" className="font-semibold text-slate hover:underline" onClick={() => onGo("/")}>
          Mellow Heron
        </button>
        <span className="text-line">/</span>
        <h1 className="truncate text-base font-semibold">{film?.name ?? "Opening the film…"}</h1>
        {film && (
          <span className="text-sm whitespace-nowrap text-faint">
            {rateName(film.rate)} fps · {film.reels.length} scene{film.reels.length === 1 ? "" : "s"} ·{" "}
            {film.length} f
          </span>
        )}
        <span className="min-w-4 flex-1" />
        <span className="truncate text-xs text-faint" aria-live="polite">
          {said}
        </span>
        <Button tip="Undo" hint="Ctrl Z" disabled={!film?.can_undo} onClick={() => void turn("undo")}>
          <Undo2 size={15} />
        </Button>
        <Button tip="Redo" hint="Ctrl Shift Z" disabled={!film?.can_redo} onClick={() => void turn("redo")}>
          <Redo2 size={15} />
        </Button>
        <Button
          tip="Hand over the film as one timeline (.otio), each scene nested in it"
          disabled={!film?.reels.length}
          onClick={() => window.location.assign(`/api/films/${id}/export/otio`)}
        >
          <FileDown size={15} /> Hand over
        </Button>
      </header>
      {problem && (
        <p role="alert" className="bg-brick-wash px-3 py-1.5 text-sm text-brick">
          {problem.title} {problem.remedy}
        </p>
      )}
      <div className="flex min-h-0 flex-1">
        <div ref={room} className="grid min-w-0 flex-1 place-items-center bg-mat">
          <Screen wide={size[0]} high={size[1]} />
        </div>
        <aside className="w-72 overflow-y-auto border-l border-line bg-paper" aria-label="Scenes of the film">
          {film && reel ? (
            <ReelCard film={film} id={reel} onOpen={openShot} />
          ) : (
            <>
              {film && <Settings film={film} />}
              {film && film.reels.length > 0 && <Movies film={film.id} />}
              <Scenes />
            </>
          )}
        </aside>
      </div>
      <div className="flex h-11 items-center gap-1.5 border-t border-line px-2">
        <Button tip="To the first frame" hint="Home" onClick={() => goTo(0)}>
          <ChevronFirst size={16} />
        </Button>
        <Button tip="Previous frame" hint="←" onClick={() => step(-1)}>
          <StepBack size={15} />
        </Button>
        <Button
          tone="main"
          className="w-10"
          tip={playing ? "Pause" : "Play the film"}
          hint="Space"
          onClick={toggle}
        >
          {playing ? <Pause size={16} /> : <Play size={16} />}
        </Button>
        <Button tip="Next frame" hint="→" onClick={() => step(1)}>
          <StepForward size={15} />
        </Button>
        <Button tip="To the last frame" hint="End" onClick={() => goTo(Number.MAX_SAFE_INTEGER)}>
          <ChevronLast size={16} />
        </Button>
        <span className="ml-3 text-lg font-semibold tabular-nums text-slate" data-testid="film-timecode">
          {showTimecode(timecodes[frame] ?? 0, film?.drop ?? false)}
        </span>
        <span className="ml-3 text-sm text-faint">
          {shown && (
            <>
              <b className="text-ink">{shown.reel.name}</b>
              {shot && ` · shot ${shot.name}`} · cut frame {shown.cut}
            </>
          )}
        </span>
        <span className="flex-1" />
        <Button onClick={() => useFilm.setState({ ppf: 0, from: 0 })}>Fit all</Button>
        <Button
          tip="Open this shot in its scene, at this frame"
          hint="Enter"
          disabled={!shown}
          onClick={() => openShot(frame)}
        >
          Open in its scene
        </Button>
      </div>
      <Strip onOpen={openShot} />
    </main>
  );
}

/** What the film is called, and where its timecode begins. */
function Settings({ film }: { film: FilmOut }) {
  const set = async (change: { name?: string; start?: string }): Promise<Problem | null> => {
    await edit({ edit: "set", ...change });
    return useFilm.getState().problem;
  };
  return (
    <section className="flex flex-col gap-1.5 px-3 py-2.5">
      <TextField names label="Film" value={film.name} onSet={(name) => set({ name })} />
      <TextField label="It starts at" value={film.start} onSet={(start) => set({ start })} />
    </section>
  );
}

/** Scenes that can be taken in. One of another rate is asked about, in place. */
function Scenes() {
  const { data } = useQuery(sceneList);
  const film = useFilm((s) => s.film);
  const [asking, setAsking] = useState<{ scene: number; fit: "time" | "frames" } | null>(null);
  const add = async (scene: number) => {
    if (!film) return;
    const path = { film_id: film.id };
    const { data: told } = await ask(
      client.GET("/api/films/{film_id}/fit", { params: { path, query: { scene } } }),
    );
    if (told && !told.same) return setAsking({ scene, fit: told.fit });
    await edit({ edit: "add", scene });
  };
  const fitted = (fit: "time" | "frames") => {
    if (asking) void edit({ edit: "add", scene: asking.scene, fit });
    setAsking(null);
  };
  return (
    <section className="border-t border-line px-3 py-2.5">
      <h2 className="heading mb-1">Take a scene in</h2>
      <p className="mb-2 text-xs text-faint">It comes last. Press a scene on the strip to trim or move it.</p>
      {data?.map((scene) => (
        <div key={scene.id} className="mb-1">
          <div className="flex items-center gap-2 text-sm">
            <span className="min-w-0 flex-1 truncate">{scene.name}</span>
            <span className="text-xs text-faint">{scene.shots} shots</span>
            <Button
              aria-label={`Take in ${scene.name}`}
              disabled={scene.shots === 0}
              onClick={() => void add(scene.id)}
            >
              Take in
            </Button>
          </div>
          {asking?.scene === scene.id && (
            <div className="rounded bg-ochre/15 p-2 text-sm" role="status">
              It runs at {rateName(scene.rate)}, the film at {rateName(film?.rate ?? "24/1")}.
              <div className="mt-1 flex gap-1">
                <Button tone={asking.fit === "time" ? "ochre" : "plain"} onClick={() => fitted("time")}>
                  Keep its time
                </Button>
                <Button tone={asking.fit === "frames" ? "ochre" : "plain"} onClick={() => fitted("frames")}>
                  Frame for frame
                </Button>
              </div>
            </div>
          )}
        </div>
      ))}
    </section>
  );
}
