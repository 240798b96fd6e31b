import { useLayoutEffect } from "react";
import { useMoment } from "../store/moment";
import { useVersions } from "../store/samples";
import { useSpace } from "../store/space";
import { useUnsaved } from "../store/unsaved";
import { useView } from "../store/view";

/** Run after each drawing of the component, and whenever the moment, the samples of these things or the sheet move, past React. */
export function useLive(update: () => void, ...things: string[]): void {
  useLayoutEffect(() => {
    update();
    const ends = [
      useMoment.subscribe((now, was) => now.stage !== was.stage && update()),
      useVersions.subscribe((now, was) => things.some((t) => now.of[t] !== was.of[t]) && update()),
      useSpace.subscribe(update),
      useUnsaved.subscribe(update),
      // What is selected brings handles, which names keep clear of.
      useView.subscribe((now, was) => now.ids !== was.ids && update()),
    ];
    return () => {
      for (const end of ends) end();
    };
  });
}
