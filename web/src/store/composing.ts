import { create } from "zustand";

/** Heads that stay at their places of the frame while another one is put somewhere, by figure; two at most count. */
export const useComposing = create<{ on: boolean; pinned: string[] }>(() => ({ on: false, pinned: [] }));

/** The head that was put last is pinned, and the one before it. */
export const pin = (figure: string): void =>
  useComposing.setState(({ pinned }) => ({
    pinned: [...pinned.filter((id) => id !== figure), figure].slice(-2),
  }));

export const unpin = (figure: string): void =>
  useComposing.setState(({ pinned }) => ({ pinned: pinned.filter((id) => id !== figure) }));

export const toggleComposing = (): void => useComposing.setState(({ on }) => ({ on: !on, pinned: [] }));
