import { useLayoutEffect } from "react";
import { useDocument } from "../store/document";
import { useLoose } from "../store/loose";
import { useMoment } from "../store/moment";
import { useSpace } from "./space";

/** Run after each drawing of the component, and whenever the moment, the samples or the sheet move, past React. */
export function useLive(update: () => void): void {
  useLayoutEffect(() => {
    update();
    const ends = [
      useMoment.subscribe((now, was) => now.stage !== was.stage && update()),
      useDocument.subscribe((now, was) => now.baked !== was.baked && update()),
      useSpace.subscribe(update),
      useLoose.subscribe(update),
    ];
    return () => {
      for (const end of ends) end();
    };
  });
}
