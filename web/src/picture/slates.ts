import { create } from "zustand";
import type { Shot } from "../api/types";
import { useDocument } from "../store/document";

/** Where the picture of a shot without a camera is to be had: drawn by the server, as renders have it. */
export function slateUrl(shot: Shot): string {
  const { id, scene } = useDocument.getState();
  // Whatever the picture says is in its address, so that another one is asked for when that changes.
  const says = [shot.name, shot.note, shot.board, shot.stage.last - shot.stage.first, scene?.delivery.aspect];
  return `/api/scenes/${id}/shots/${shot.id}/slate.png?of=${encodeURIComponent(says.join(" "))}`;
}

/** The stored shot's address, by its id; a shot that is only tried has none yet. */
export function storedSlateUrl(shot: string): string | null {
  const stored = useDocument.getState().scene?.shots.find((one) => one.id === shot);
  return stored ? slateUrl(stored) : null;
}

/** Pictures of slates that have arrived for the drawing, by address. */
export const useSlates = create<{ arrived: ReadonlySet<string> }>(() => ({ arrived: new Set() }));
