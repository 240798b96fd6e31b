import { describe, expect, it } from "vitest";
import own from "../../../tests/vectors/dressed.json";
import vectors from "../../../tests/vectors/patches.json";
import type { FinePatch, Patch, Scene } from "../api/types";
import { applyPatch, dressed, inOrder } from "./patch";

/** Made by the core's tests, which hold the core to the same. */
const VECTORS = vectors as unknown as {
  before: Scene;
  patch: Patch;
  fine: FinePatch | null;
  after: Scene;
  says: string;
}[];

describe("applyPatch", () => {
  it.each(VECTORS.map((v) => [v.says, v] as const))("does as the core does: %s", (_, v) => {
    expect(applyPatch(v.before, v.patch)).toEqual(v.after);
    // The short one, sent while a hand drags.
    if (v.fine) expect(applyPatch(v.before, v.fine)).toEqual(v.after);
  });

  it("leaves what a patch does not name as the same object", () => {
    const { before, patch } = VECTORS[0];
    const after = applyPatch(before, patch);
    const named = new Set(Object.keys(patch.items.cameras ?? {}));
    for (const camera of after.cameras) if (!named.has(camera.id)) expect(before.cameras).toContain(camera);
    expect(after.pieces).toBe(before.pieces);
  });
});

describe("inOrder", () => {
  it("keeps what it does not name behind the one it stood behind", () => {
    expect(inOrder(["c", "a"], ["a", "new", "c"])).toEqual(["c", "a", "new"]);
    expect(inOrder(["a"], ["first", "a"])).toEqual(["first", "a"]);
    expect(inOrder(["gone", "a"], ["a"])).toEqual(["a"]);
    expect(inOrder(undefined, ["b", "a"])).toEqual(["b", "a"]);
  });
});

describe("dressed", () => {
  const { before, shot, after } = own as unknown as { before: Scene; shot: string; after: Scene };
  it("has the scene as the core has it for a shot", () => {
    expect(dressed(before, shot)).toEqual(after);
    expect(dressed(before, shot)).toBe(dressed(before, shot));
  });
  it("leaves alone what the shot has no other way", () => {
    const there = dressed(before, shot);
    expect(there.cameras).toBe(before.cameras);
    expect(dressed(before, before.shots[0].id)).toBe(before);
  });
});
