import { useDocument } from "../store/document";
import { goCut, goStage, useMoment } from "../store/moment";
import { useSpace } from "../store/space";
import { lookThrough, useView } from "../store/view";
import { filmOf } from "../verbs/film";

/** A place in a scene that an address names, so that a view can be sent to a colleague. */
export interface Place {
  scene: number;
  /** `rover`, `cut`, or a camera's letter. */
  look: string | null;
  frame: number | null;
}

/** `/scene/1?look=B&frame=1040`; with look=cut the frame is the cut's. */
export function readPlace(): Place | null {
  const match = location.pathname.match(/^\/scene\/(\d+)\/?$/);
  if (!match) return null;
  const query = new URLSearchParams(location.search);
  const frame = Number.parseInt(query.get("frame") ?? "", 10);
  return { scene: Number(match[1]), look: query.get("look"), frame: Number.isNaN(frame) ? null : frame };
}

export function goTo(place: Place): void {
  const scene = useDocument.getState().scene;
  if (!scene) return;
  const camera = scene.cameras.find((c) => c.letter === place.look?.toUpperCase());
  if (camera) lookThrough({ camera: camera.id });
  else if (place.look === "cut" && scene.shots.length > 0) lookThrough("cut");
  else lookThrough("rover");
  if (useMoment.getState().clock === "cut") goCut(place.frame ?? 0);
  else goStage(place.frame ?? scene.frames.first);
}

export function placeLink(): string {
  const { id, scene } = useDocument.getState();
  const { through } = useView.getState();
  const { clock, stage, cut } = useMoment.getState();
  const look =
    typeof through === "string" ? through : scene?.cameras.find((c) => c.id === through.camera)?.letter;
  const from = filmOf();
  const back = from ? `&film=${from.film}&reel=${from.reel}` : "";
  return `/scene/${id}?look=${look ?? "rover"}&frame=${clock === "cut" ? cut : stage}${back}`;
}

/** Keep the address at where the hand is, a little after it has come to rest. */
export function followPlace(): () => void {
  let timer = 0;
  let returning = false;
  const write = (step = false) => {
    window.clearTimeout(timer);
    if (useDocument.getState().id === null || useMoment.getState().playing) return;
    if (step) history.pushState(null, "", placeLink());
    else history.replaceState(null, "", placeLink());
  };
  const later = () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => write(), 250);
  };
  const ends = [
    useMoment.subscribe(later),
    // What is looked through changes seldom: at once, so that a reload right after it comes back here.
    // And a step that Back goes back by, unless it was Back that looked there.
    useView.subscribe((now, was) => now.through !== was.through && !returning && write(true)),
  ];
  const back = () => {
    const place = readPlace();
    if (!place || place.scene !== useDocument.getState().id) return;
    returning = true;
    goTo(place);
    returning = false;
  };
  window.addEventListener("popstate", back);
  return () => {
    window.clearTimeout(timer);
    window.removeEventListener("popstate", back);
    for (const end of ends) end();
  };
}

const slot = (scene: number) => `heron-view-${scene}`;

/** Bring back where the rover stood and what the plan showed; whether there was anything to bring back. */
export function recallView(scene: number): boolean {
  try {
    const was = JSON.parse(sessionStorage.getItem(slot(scene)) ?? "null");
    if (!was) return false;
    useView.setState({ rover: was.rover });
    useSpace.setState({ cx: was.cx, cz: was.cz, scale: was.scale });
    return true;
  } catch {
    return false;
  }
}

/** Keep the rover's place and the plan's through a reload. */
export function keepView(): () => void {
  const keep = () => {
    const { id } = useDocument.getState();
    const { cx, cz, scale } = useSpace.getState();
    if (id !== null)
      sessionStorage.setItem(slot(id), JSON.stringify({ rover: useView.getState().rover, cx, cz, scale }));
  };
  window.addEventListener("pagehide", keep);
  return () => {
    keep();
    window.removeEventListener("pagehide", keep);
  };
}
