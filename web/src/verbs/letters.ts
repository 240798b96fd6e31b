import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useView } from "../store/view";
import { cutHere } from "./cutting";
import { cutLive, cutsLive } from "./live";

/** A letter of a camera while the cut plays; whether it was for that. */
export function pressLetter(e: KeyboardEvent): boolean {
  // Before the wall, with the cut held, a letter cuts there too.
  const held =
    useView.getState().wall && useMoment.getState().clock === "cut" && !useMoment.getState().playing;
  if (!(cutsLive() || held) || e.ctrlKey || e.metaKey || e.altKey || e.shiftKey || !/^[a-z]$/i.test(e.key))
    return false;
  const letter = e.key.toUpperCase();
  const camera = useDocument.getState().scene?.cameras.find((one) => one.letter === letter);
  if (!camera) return false;
  if (e.repeat) return true;
  if (held) void cutHere(camera.id);
  else cutLive(camera.id, e.timeStamp);
  return true;
}
