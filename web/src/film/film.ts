import { create } from "zustand";
import { ask, client } from "../api/client";
import type { components } from "../api/schema";
import type { Problem } from "../api/types";

type Schemas = components["schemas"];
export type FilmOut = Schemas["FilmOut"];
export type ReelOut = Schemas["ReelOut"];
export type FilmEdit = Schemas["FilmEditIn"]["edit"];

interface State {
  film: FilmOut | null;
  timecodes: Int32Array;
  frame: number;
  playing: boolean;
  /** The reel that is chosen. */
  reel: string | null;
  problem: Problem | null;
  /** What the last edit was. */
  said: string;
  /** How much of the film is in sight: its first frame and pixels for each. */
  from: number;
  /** Pixels a frame; 0 fits the whole film. */
  ppf: number;
}

export const useFilm = create<State>(() => ({
  film: null,
  timecodes: new Int32Array(1),
  frame: 0,
  playing: false,
  reel: null,
  problem: null,
  said: "",
  from: 0,
  ppf: 0,
}));

async function take(film: FilmOut | null, problem: Problem | null): Promise<void> {
  if (!film) return useFilm.setState({ problem });
  const answer = await fetch(`/api/films/${film.id}/timecodes`);
  const timecodes = answer.ok ? new Int32Array(await answer.arrayBuffer()) : useFilm.getState().timecodes;
  useFilm.setState((s) => ({
    film,
    timecodes,
    problem: null,
    said: film.said,
    frame: Math.min(s.frame, Math.max(film.length - 1, 0)),
    reel: film.reels.some((one) => one.id === s.reel) ? s.reel : null,
  }));
}

export async function openFilm(id: number): Promise<void> {
  const { data, problem } = await ask(
    client.GET("/api/films/{film_id}", { params: { path: { film_id: id } } }),
  );
  await take(data as FilmOut | null, problem);
}

export async function edit(change: FilmEdit): Promise<void> {
  const { film } = useFilm.getState();
  if (!film) return;
  const { data, problem } = await ask(
    client.POST("/api/films/{film_id}/edits", {
      params: { path: { film_id: film.id } },
      body: { seen: film.revision, edit: change },
    }),
  );
  if (problem?.status === 409) await openFilm(film.id);
  await take(data as FilmOut | null, problem);
}

export async function turn(which: "undo" | "redo"): Promise<void> {
  const { film } = useFilm.getState();
  if (!film) return;
  const asked = { params: { path: { film_id: film.id } } };
  const { data, problem } = await ask(
    which === "undo"
      ? client.POST("/api/films/{film_id}/undo", asked)
      : client.POST("/api/films/{film_id}/redo", asked),
  );
  await take(data as FilmOut | null, problem);
}

/** The reel at a film frame, and the frame of its scene's cut that is shown there. */
export function shownAt(film: FilmOut | null, frame: number): { reel: ReelOut; cut: number } | null {
  const reel = film?.reels.find((one) => one.film && one.film[0] <= frame && frame <= one.film[1]);
  if (!reel?.film) return null;
  const at = frame - reel.film[0];
  return { reel, cut: reel.shows ? reel.shows[at] : reel.first + at };
}

export function goTo(frame: number): void {
  useFilm.setState((s) => ({
    frame: Math.min(Math.max(Math.round(frame), 0), Math.max((s.film?.length ?? 1) - 1, 0)),
  }));
}

let ticket = 0;

export function pause(): void {
  ticket += 1;
  useFilm.setState({ playing: false });
}

/** Play on by the clock: a frame that could not be drawn in time is left out. */
export function play(): void {
  const { film, frame } = useFilm.getState();
  if (!film || film.length === 0) return;
  const [top, bottom] = film.rate.split("/").map(Number);
  const from = frame >= film.length - 1 ? 0 : frame;
  const began = performance.now();
  ticket += 1;
  const mine = ticket;
  useFilm.setState({ playing: true, frame: from });
  const next = () => {
    if (mine !== ticket) return;
    const now = from + Math.floor(((performance.now() - began) / 1000) * (top / bottom));
    if (now >= film.length - 1) {
      goTo(film.length - 1);
      return pause();
    }
    if (now !== useFilm.getState().frame) goTo(now);
    requestAnimationFrame(next);
  };
  requestAnimationFrame(next);
}

export const toggle = () => (useFilm.getState().playing ? pause() : play());

/** To the beginning of the next shot, or of the one before. */
export function goShot(by: 1 | -1): void {
  const { film, frame } = useFilm.getState();
  const begins = film?.reels.flatMap((reel) => reel.shots.map((shot) => shot.film[0])) ?? [];
  const to = by > 0 ? begins.find((at) => at > frame) : begins.findLast((at) => at < frame);
  if (to !== undefined) goTo(to);
}

/** Where the shot at a frame is worked on: its scene, at exactly that moment, with the way back. */
export function sceneAt(frame: number): string | null {
  const { film } = useFilm.getState();
  const shown = shownAt(film, frame);
  return film && shown
    ? `/scene/${shown.reel.scene}?look=cut&frame=${shown.cut}&film=${film.id}&reel=${shown.reel.id}`
    : null;
}
