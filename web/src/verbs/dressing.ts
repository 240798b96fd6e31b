import { dressShot, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { placedShots } from "../store/samples";
import { notice, scrubCut, useView } from "../store/view";

/** Dress a shot for itself, at a moment of it. */
export function dressThis(shot: string): void {
  const index = placedShots().findIndex((one) => one.id === shot);
  if (index >= 0 && useMoment.getState().shot !== index) scrubCut(placedShots()[index].cut_first);
  dressShot(shot);
}

/** The same of the selected shot, else of the one at the playhead; again, or elsewhere, of none. */
export function dressHere(): void {
  const { dress, shown } = useDocument.getState();
  const { kind, ids } = useView.getState();
  const shot = kind === "shot" ? ids[0] : shown?.shots[useMoment.getState().shot]?.id;
  if (dress) dressShot(null);
  else if (shot) dressThis(shot);
  else notice("No shot is here.", "Select one, or go to a frame that a shot shows, then dress it.");
}
