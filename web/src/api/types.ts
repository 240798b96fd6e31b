import type { components } from "./schema";

type Schemas = components["schemas"];

/** What the server sends always has every field; the schema marks those with a default as optional. */
export type Full<T> = T extends (infer U)[]
  ? Full<U>[]
  : T extends object
    ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
    : T;

export type Scene = Full<Schemas["Scene"]>;
export type Camera = Scene["cameras"][number];
export type Figure = Scene["figures"][number];
export type Act = Figure["acts"][number];
export type Piece = Scene["pieces"][number];
export type Mover = Scene["movers"][number];
export type Shot = Scene["shots"][number];
export type PieceKind = Piece["kind"];
export type Channel = Camera["x"];
export type KeyKind = Channel["keys"][number]["before"];
export type Patch = Full<Schemas["Patch"]>;
export type Command = Schemas["CommandIn"]["command"];
export type SceneOut = Full<Schemas["SceneOut"]>;
export type ChangedOut = Full<Schemas["ChangedOut"]>;
export type PreviewOut = Full<Schemas["PreviewOut"]>;
export type SceneLine = Schemas["SceneLine"];
export type EditLine = Schemas["EditLine"];
export type Catalogue = Full<Schemas["Catalogue"]>;
export type Delivery = Full<Schemas["Delivery"]>;
export type Table = "figures" | "movers" | "pieces" | "cameras" | "shots";

/** A refusal: the sentence, the remedy, and the field at fault where there is one. */
export interface Problem {
  detail: string;
  title: string;
  remedy: string;
  status: number;
  field?: string;
  changes?: string[];
  /** The same command with `force` would be done. */
  can_force?: boolean;
}

export const POSE = ["x", "y", "z", "pan", "tilt", "roll"] as const;
export type Pose = Record<(typeof POSE)[number], number>;

export type KitLens = Scene["lenses"][number];
export type FocusOn = Camera["focus"]["on"];
export type FrameLine = Schemas["FrameLine"];
export type GlassOut = Schemas["GlassOut"];
export type Compared = Schemas["ComparedOut"];
export type GlassName = "focal" | "aperture" | "exposure";
