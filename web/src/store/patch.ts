import type { FinePatch, Patch, Scene, Table } from "../api/types";

/** Ids in a wanted order; those it does not name stay behind the one they stood behind. */
export function inOrder(wanted: string[] | undefined, now: string[]): string[] {
  if (!wanted) return now;
  const there = new Set(now);
  const named = new Set(wanted);
  const out = wanted.filter((id) => there.has(id));
  now.forEach((id, i) => {
    if (!named.has(id)) out.splice(i === 0 ? 0 : out.indexOf(now[i - 1]) + 1, 0, id);
  });
  return out;
}

/** The scene with a patch applied; what it does not name stays the same object. As the core does it. */
export function applyPatch(scene: Scene, patch: Patch | FinePatch): Scene {
  const out = { ...scene, ...(patch.settings as Partial<Scene>) } as Scene;
  const parts = "parts" in patch ? patch.parts : {};
  const tables = [...Object.keys(patch.items), ...Object.keys(patch.order), ...Object.keys(parts)];
  for (const table of new Set(tables) as Set<Table>) {
    const now = new Map((out[table] as { id: string }[]).map((item) => [item.id, item]));
    for (const [id, fields] of Object.entries(parts[table] ?? {})) {
      const was = now.get(id);
      if (was) now.set(id, { ...was, ...fields });
    }
    for (const [id, content] of Object.entries(patch.items[table] ?? {})) {
      if (content === null) now.delete(id);
      else now.set(id, content as unknown as { id: string });
    }
    (out[table] as unknown[]) = inOrder(patch.order[table], [...now.keys()]).map((id) => now.get(id));
  }
  return out;
}

const BY_TABLE = { piece: "pieces", figure: "figures", mover: "movers" } as const;
const kept = new WeakMap<Scene, Map<string, Scene>>();

/** The scene as a shot has it, with what is otherwise for that shot alone; the same object for the same scene. */
export function dressed(scene: Scene, id: string): Scene {
  const own = scene.shots.find((shot) => shot.id === id)?.own ?? [];
  if (own.length === 0) return scene;
  const known = kept.get(scene) ?? new Map<string, Scene>();
  kept.set(scene, known);
  const found = known.get(id) ?? applyPatch(scene, patchOf(scene, own));
  known.set(id, found);
  return found;
}

function patchOf(scene: Scene, own: NonNullable<Scene["shots"][number]["own"]>): FinePatch {
  const parts: FinePatch["parts"] = {};
  let settings: FinePatch["settings"] = {};
  for (const one of own) {
    const name = (["piece", "figure", "mover"] as const).find((kind) => one[kind]);
    if (!name) settings = { surround: { ...scene.surround, ...one.fields } };
    else {
      parts[BY_TABLE[name]] ??= {};
      parts[BY_TABLE[name]][one[name] as string] = one.fields;
    }
  }
  return { settings, items: {}, order: {}, parts };
}
