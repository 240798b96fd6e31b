import {
  DepthTexture,
  HalfFloatType,
  NearestFilter,
  type PerspectiveCamera,
  UnsignedIntType,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";
import type { Glass } from "../sight";
import { run, step } from "./sheet";

const TAPS = 12;
/** A quick blur goes no wider than this, in pixels; the still picture that follows has no limit. */
const WIDEST = 26;
/** Where nothing near blurs wider than this, fewer taps do. */
const NARROW = [
  [2.5, 5],
  [6, 8],
];
/** The widest blur is looked for in squares of so many pixels; a blur reaches no farther than two of them. */
const TILE = 16;

const shared = {
  colour: { value: null as unknown },
  deep: { value: null as unknown },
  tiles: { value: null as unknown },
  ends: { value: [0.1, 1000] },
  size: { value: [1, 1] },
  reach: { value: [0, 0] },
  focus: { value: 0 },
  sharp: { value: [0, 0] },
};

const HEAD = /* glsl */ `
  uniform sampler2D colour, deep, tiles;
  uniform vec2 ends, size, reach, sharp;
  uniform float focus;
  varying vec2 at;
  float perMetreOf(float z) { return (ends.y - z * (ends.y - ends.x)) / (ends.x * ends.y); }
  float perMetre(vec2 p) { return perMetreOf(texture2D(deep, p).x); }
  float wide(float d) { return min(reach.y * abs(focus - d), ${WIDEST.toFixed(1)}); }
`;

/** The widest blur in each square. */
const TILES = step(
  shared,
  `${HEAD}
  void main() {
    ivec2 from = ivec2(gl_FragCoord.xy) * ${TILE}, end = min(from + ${TILE}, ivec2(size));
    float farthest = 0.0, nearest = 1.0;
    for (int y = from.y; y < end.y; y++) for (int x = from.x; x < end.x; x++) {
      float z = texelFetch(deep, ivec2(x, y), 0).x;
      farthest = max(farthest, z);
      nearest = min(nearest, z);
    }
    gl_FragColor = vec4(max(wide(perMetreOf(farthest)), wide(perMetreOf(nearest))));
  }`,
);

/** The widest blur that can reach into each square. */
const AROUND = step(
  shared,
  `${HEAD}
  void main() {
    ivec2 here = ivec2(gl_FragCoord.xy), last = textureSize(tiles, 0) - 1;
    float most = 0.0;
    for (int y = -2; y <= 2; y++) for (int x = -2; x <= 2; x++)
      most = max(most, texelFetch(tiles, clamp(here + ivec2(x, y), ivec2(0), last), 0).x);
    gl_FragColor = vec4(most);
  }`,
);

/** Gathers what blurs over each pixel, once, by its depth: near enough while things move. */
const BLUR = step(
  shared,
  `${HEAD}
  void main() {
    float most = texelFetch(tiles, ivec2(at * size) / ${TILE}, 0).x;
    vec3 sum = texture2D(colour, at).rgb;
    float all = 1.0;
    if (most > 0.7) {
      float here = perMetre(at), own = wide(here);
      float turn = fract(52.98 * fract(dot(gl_FragCoord.xy, vec2(0.0671, 0.00584)))) * 6.2832;
      int taps = most < ${NARROW[0][0].toFixed(1)} ? ${NARROW[0][1]} : most < ${NARROW[1][0].toFixed(1)} ? ${NARROW[1][1]} : ${TAPS};
      for (int i = 0; i < taps; i++) {
        float far = most * sqrt((float(i) + 0.5) / float(taps));
        float angle = turn + float(i) * 2.39996;
        vec2 p = at + far * vec2(cos(angle) * reach.x / max(reach.y, 1e-6), sin(angle)) / size;
        float there = perMetre(p);
        float spread = wide(there);
        // What lies behind cannot spread over what is sharp in front of it.
        if (there < here) spread = min(spread, own);
        if (spread + 1.0 <= far) continue;
        float w = clamp(spread - far + 1.0, 0.0, 1.0) / max(spread * spread, 1.0) * max(own * own, 1.0);
        w = min(w, 4.0);
        sum += texture2D(colour, p).rgb * w;
        all += w;
      }
    }
    gl_FragColor = vec4(sum / all, 1.0);
    #include <colorspace_fragment>
  }`,
);

/** Hatches what is sharp. */
const MARK = step(
  shared,
  `${HEAD}
  void main() {
    float d = perMetre(at);
    float stripe = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 7.0));
    float shown = d <= sharp.x && d >= sharp.y ? 0.3 + 0.35 * stripe : 0.0;
    // Laid over finished pixels, so in the screen's own values.
    gl_FragColor = vec4(vec3(0.21, 0.42, 0.66) * shown, shown);
  }`,
  "over",
);

/** A single drawing with its depth, for what is worked out from it. */
export class Quick {
  readonly one: WebGLRenderTarget;
  private readonly tiles = [0, 1].map(
    () =>
      new WebGLRenderTarget(1, 1, {
        type: HalfFloatType,
        depthBuffer: false,
        minFilter: NearestFilter,
        magFilter: NearestFilter,
      }),
  );

  constructor() {
    const depthTexture = new DepthTexture(1, 1, UnsignedIntType);
    this.one = new WebGLRenderTarget(1, 1, {
      type: HalfFloatType,
      depthTexture,
      minFilter: NearestFilter,
      magFilter: NearestFilter,
    });
  }

  resize(width: number, height: number): void {
    this.one.setSize(width, height);
    for (const some of this.tiles) some.setSize(Math.ceil(width / TILE), Math.ceil(height / TILE));
  }

  private tell(eye: PerspectiveCamera, glass: Glass): void {
    const { width, height } = this.one;
    shared.colour.value = this.one.texture;
    shared.deep.value = this.one.depthTexture;
    shared.ends.value = [eye.near, eye.far];
    shared.size.value = [width, height];
    const m = eye.projectionMatrix.elements;
    shared.reach.value = [(glass.across * m[0] * width) / 2, (glass.up * m[5] * height) / 2];
    shared.focus.value = glass.focus;
    shared.sharp.value = [glass.sharpNear, glass.sharpFar];
  }

  /** Put the drawing on the screen, or into a target in linear light, blurred by its depth. */
  show(gl: WebGLRenderer, eye: PerspectiveCamera, glass: Glass, into: WebGLRenderTarget | null = null): void {
    this.tell(eye, glass);
    const [each, around] = this.tiles;
    run(gl, TILES, each);
    shared.tiles.value = each.texture;
    run(gl, AROUND, around);
    shared.tiles.value = around.texture;
    run(gl, BLUR, into);
  }

  /** Hatch on the screen what is sharp in the drawing. */
  mark(gl: WebGLRenderer, eye: PerspectiveCamera, glass: Glass): void {
    this.tell(eye, glass);
    run(gl, MARK, null);
  }
}
