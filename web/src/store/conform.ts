import { create } from "zustand";
import type { Schemas } from "../api/types";

/** A cut that came back from the edit: what it is called, its clips, and what of it is left as it is. */
export const useConform = create<{
  of: number | null;
  name: string;
  clips: Schemas["Came"][];
  leave: string[];
}>(() => ({
  of: null,
  name: "",
  clips: [],
  leave: [],
}));
