import type { components } from "./schema";

export type Schemas = components["schemas"];

/** What the server sends always has every field; the schema marks those with a default as optional. */
export type Full<T> = T extends readonly unknown[]
  ? number extends T["length"]
    ? Full<T[number]>[]
    : { [K in keyof T]: Full<T[K]> }
  : T extends object
    ? { [K in keyof T]-?: Full<Exclude<T[K], undefined>> }
    : T;

export type Scene = Full<Schemas["Scene"]>;
export type Camera = Scene["cameras"][number];
export type Layer = Camera["layers"][number];
export type LayerKind = Layer["kind"];
export type Figure = Scene["figures"][number];
export type Act = Figure["acts"][number];
/** An act that is not named yet. */
export type NewAct = Does<"figure.act">["act"];
export type Piece = Scene["pieces"][number];
export type Mover = Scene["movers"][number];
export type Perch = Scene["perches"][number];
export type Cue = Scene["cues"][number];
export type Pass = Scene["passes"][number];
/** A line of dialogue, and when it is said. */
export type SpokenLine = Scene["lines"][number];
/** A sound on the stage or in the cut. */
export type Sound = Scene["sounds"][number];
export type TimedLine = Schemas["TimedLineOut"];
export type Shot = Scene["shots"][number];
/** What can be drawn on the plan. */
export type PieceKind = Exclude<Piece["kind"], "model">;
export type Channel = Camera["x"];
export type KeyKind = Channel["keys"][number]["before"];
export type Patch = Full<Schemas["Patch"]>;
export type FinePatch = Full<Schemas["FinePatch"]>;
export type Command = Schemas["CommandIn"]["command"];
export type SceneOut = Full<Schemas["SceneOut"]>;
export type ChangedOut = Full<Schemas["ChangedOut"]>;
export type PreviewOut = Full<Schemas["PreviewOut"]>;
export type ChangesOut = Full<Schemas["ChangesOut"]>;
export type SceneLine = Schemas["SceneLine"];
export type Neighbour = Schemas["NeighbourOut"];
export type RunLine = Schemas["RunLine"];
export type FilmLine = Schemas["FilmLine"];
export type EditLine = Schemas["EditLine"];
export type Catalogue = Full<Schemas["Catalogue"]>;
export type Delivery = Full<Schemas["Delivery"]>;
export type Table =
  | "figures"
  | "movers"
  | "pieces"
  | "perches"
  | "lenses"
  | "cameras"
  | "shots"
  | "cues"
  | "passes"
  | "lines"
  | "sounds";
/** One kind of command, as it is sent. */
export type Does<K extends Command["kind"]> = Extract<Command, { kind: K }>;
export type CameraColumn = Schemas["Catalogue"]["columns"]["camera"][number];
export type MoverColumn = Schemas["Catalogue"]["columns"]["mover"][number];
export type ChannelSpec = Full<Schemas["ChannelSpec"]>;

/** The cut: for each cut frame its shot, stage frame and timecode; for each stage frame its first cut frame. */
export interface CutTable {
  length: number;
  drop: boolean;
  first: number;
  /** `step`: frames of the stage that are skipped where the shot begins, or repeated where it is less than 0. */
  shots: {
    id: string;
    cut_first: number;
    cut_last: number;
    step?: number | null;
    /** Of another cut than the scene's own. */
    name?: string;
    camera?: string | null;
  }[];
  shot: Int32Array;
  stage: Int32Array;
  timecode: Int32Array;
  firstCut: Int32Array;
  /** The cut frames whose picture is more than their shot's own, in order: the other shot (−1: none) and its stage frame
   *  (−1: a slate), the weights of the two, and the light that the colours of fades add, three numbers each. */
  mixed: {
    at: Int32Array;
    other: Int32Array;
    stage: Int32Array;
    own: Float32Array;
    others: Float32Array;
    light: Float32Array;
  };
}

/** A refusal: the sentence, the remedy, and the field at fault where there is one. */
export interface Problem {
  detail: string;
  title: string;
  remedy: string;
  status: number;
  field?: string;
  changes?: string[];
  /** What can be done instead, with a press. */
  alternatives?: { label: string; commands: Command[] }[];
  /** The storage could not take it: it is nowhere but where it was typed. */
  not_kept?: boolean;
}

export const POSE = ["x", "y", "z", "pan", "tilt", "roll"] as const;
export type Pose = Record<(typeof POSE)[number], number>;

export type KitLens = Scene["lenses"][number];
/** Where something is: a place, or something it goes with. */
export type Spot = Extract<Act, { kind: "point" }>["at"];
export type FocusOn = Camera["focus"]["on"];
/** What a hand points at; the core makes of it what is kept. */
export type Pointed = Does<"focus.set">["on"];
export type News = Full<Schemas["News"]>;
export type CurvesOut = Full<Schemas["CurvesOut"]>;
export type ShotSize = Does<"camera.shot_size">["size"];
export type FrameLine = Schemas["FrameLine"];
export type GlassOut = Schemas["GlassOut"];
export type Compared = Schemas["ComparedOut"];
export type GlassName = "focal" | "aperture" | "exposure";
export type Render = Full<Schemas["Render"]>;
export type Take = Full<Schemas["TakeOut"]>;
export type TakeWhole = Full<Schemas["TakeWhole"]>;
export type TakeFrame = Full<Schemas["FrameOut"]>;
export type Remark = Full<Schemas["RemarkOut"]>;
export type NoteOut = Full<Schemas["NoteOut"]>;
export type LookoutOut = Full<Schemas["LookoutOut"]>;
export type HeadInFrame = Full<Schemas["HeadInFrame"]>;
export type LookAsked = Full<Schemas["Asked"]>;
export type RemedyOut = Full<Schemas["RemedyOut"]>;
export type CutNotes = Full<Schemas["CutNotesOut"]>;
export type ShotLine = Full<Schemas["ShotLine"]>;
export type PlanOut = Full<Schemas["PlanOut"]>;

export type Do = Extract<Command, { kind: "cut.edit" }>["do"];
/** An edit of the cut that moves edges by frames. */
export type Edges = Extract<Do, { by?: number }>;
export type BroughtFile = Schemas["BroughtOut"];
export type Reading = Schemas["ReadingOut"];
export type Unit = NonNullable<Schemas["ReadIn"]["unit"]>;
