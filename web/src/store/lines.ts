import { create } from "zustand";
import type { Scene, SpokenLine } from "../api/types";

/** The lines that are chosen. */
export const useLines = create<{ chosen: string[] }>(() => ({ chosen: [] }));

export function chooseLines(chosen: string[]): void {
  useLines.setState({ chosen });
}

/** Who says a line: their name and colour, and the name alone of a voice off. */
export function speakerOf(scene: Scene, line: SpokenLine): { name: string; colour: string } {
  const figure = scene.figures.find((one) => one.id === line.figure);
  return figure
    ? { name: figure.name, colour: figure.look.coat }
    : { name: line.who, colour: "var(--faint)" };
}
