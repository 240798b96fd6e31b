import { create } from "zustand";
import type { NoteOut } from "../api/types";

/** The note that is pointed at: it is marked in the picture; and the one that was gone to last, by its shot and place in the list. */
export const useNoted = create<{ pointed: NoteOut | null; at: string | null }>(() => ({
  pointed: null,
  at: null,
}));
