import { create } from "zustand";
import { useView } from "./view";

/** Cameras that are only proposed: they are tried out, and their pictures are what the wall shows. */
export const useProposed = create<{ ids: string[] }>(() => ({ ids: [] }));

/** Look through a camera that is only proposed; nothing is selected, for nothing is there yet. */
export const lookAhead = (camera: string): void =>
  useView.setState({ through: { camera }, wall: false, held: [], picking: null, comparing: null });
