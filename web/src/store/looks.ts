/** Lines laid over the frame, and other ways to look at the picture; remembered from day to day. */
export interface Looks {
  safe: boolean;
  thirds: boolean;
  centre: boolean;
  diagonals: boolean;
  protect: boolean;
  outside: boolean;
  blur: boolean;
  /** At rest the picture is gathered over the open shutter. */
  motion: boolean;
  /** At rest the picture is drawn again and again into a finer one; without, the processor rests too. */
  refine: boolean;
  /** Shots on the strip and in lists have pictures, drawn at rest. */
  stills: boolean;
  sharp: boolean;
  standard: "smpte" | "ebu";
  golden: boolean;
  /** Protected aspects follow whom the picture is of. */
  follow: boolean;
  /** The aspects to protect, as typed. */
  aspect: string;
  /** How the picture is changed so that it can be judged. */
  judge: "" | "silhouettes" | "lines" | "values3" | "values5" | "squint";
  /** Left and right are changed over: a tired eye sees it anew. */
  mirrored: boolean;
}

const LOOKS: Looks = {
  safe: false,
  thirds: false,
  centre: false,
  diagonals: false,
  protect: false,
  outside: false,
  blur: true,
  motion: false,
  refine: true,
  stills: true,
  sharp: false,
  standard: "smpte",
  aspect: "9:16",
  golden: false,
  follow: false,
  judge: "",
  mirrored: false,
};

/** The looks that were chosen last, on this machine. */
export function rememberedLooks(): Looks {
  try {
    return { ...LOOKS, ...JSON.parse(localStorage.getItem("heron-looks") ?? "{}") };
  } catch {
    return LOOKS;
  }
}
