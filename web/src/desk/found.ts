import { meant } from "./synonyms";

/** Every word that is typed must begin a word of what it does. */
export function fits(does: string, typed: string): boolean {
  const words = does.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  return typed
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .every((part) => words.some((word) => word.startsWith(part)));
}

/** What is called what was typed, then what it may stand for in other words of the trade. */
export function found<T extends { does: string }>(all: T[], typed: string): T[] {
  const asked = typed.trim();
  const called = all.filter((one) => fits(one.does, asked));
  if (!asked) return called;
  const other = meant(asked).flatMap((means) => all.filter((one) => fits(one.does, means)));
  return [...new Set([...called, ...other])];
}
