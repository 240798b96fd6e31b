import { create } from "zustand";
import type { Pointed } from "../api/types";
import { useView } from "./view";

/** Cameras that are only proposed: they are tried out, and their pictures are what the wall shows; and what an insert is of. */
export const useProposed = create<{ ids: string[]; insert: Pointed | null }>(() => ({
  ids: [],
  insert: null,
}));

/** Look through a camera that is only proposed; nothing is selected, for nothing is there yet. */
export const lookAhead = (camera: string): void =>
  useView.setState({ through: { camera }, wall: false, held: [], picking: null, comparing: null });
