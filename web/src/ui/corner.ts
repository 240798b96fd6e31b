import { create } from "zustand";

/** The corner of the plan where the viewfinder puts its small picture, once the plan is there. */
export const useCorner = create<{ corner: HTMLElement | null }>(() => ({ corner: null }));

/** For the plan to say where that is. */
export const offerCorner = (corner: HTMLElement | null) => useCorner.setState({ corner });
