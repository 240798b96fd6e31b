import {
  FloatType,
  HalfFloatType,
  NearestFilter,
  type Texture,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";
import { run, step } from "./sheet";

const SUM = step(
  { one: { value: null }, weight: { value: 1 } },
  "uniform sampler2D one; uniform float weight; varying vec2 at; void main() { gl_FragColor = texture2D(one, at) * weight; }",
  "add",
);
/** A picture of the delivery frame, where more than that is drawn; black round it. */
const LAY = step(
  { one: { value: null }, weight: { value: 1 }, over: { value: [1, 1] } },
  `uniform sampler2D one; uniform float weight; uniform vec2 over; varying vec2 at;
  void main() {
    vec2 p = (at - 0.5) * over + 0.5;
    bool inside = all(greaterThanEqual(p, vec2(0.0))) && all(lessThanEqual(p, vec2(1.0)));
    gl_FragColor = inside ? texture2D(one, p) * weight : vec4(0.0);
  }`,
  "add",
);
const SHOW = step(
  { sum: { value: null }, share: { value: 1 }, light: { value: [0, 0, 0] } },
  `uniform sampler2D sum; uniform float share; uniform vec3 light; varying vec2 at;
  void main() {
    gl_FragColor = vec4(texture2D(sum, at).rgb * share + light, 1.0);
    #include <colorspace_fragment>
    // Half a step of noise, so that a slow gradient of sky shows no bands.
    gl_FragColor.rgb += (fract(52.9829 * fract(dot(gl_FragCoord.xy, vec2(0.06711, 0.00584)))) - 0.5) / 255.0;
  }`,
);

const PLAIN = { minFilter: NearestFilter, magFilter: NearestFilter };

let last: Accumulation | null = null;
let pen: WebGLRenderer | null = null;

/** Whether a drawing of a picture at rest is being made at this moment. */
export const underWay = (): boolean => Boolean(last && pen && !last.done(pen));

/** A new size waits for the drawing that is under way: no further one is begun meanwhile. */
export const sizing = { waits: 0 };

/** Many drawings of one moment laid over each other in linear light, as a shutter gathers them. */
export class Accumulation {
  /** A single drawing is made in here. */
  readonly one = new WebGLRenderTarget(1, 1, { type: HalfFloatType, ...PLAIN });
  private sum: WebGLRenderTarget;
  private fence: WebGLSync | null = null;
  count = 0;

  constructor(gl: WebGLRenderer) {
    last = this;
    pen = gl;
    const type = gl.extensions.has("EXT_float_blend") ? FloatType : HalfFloatType;
    this.sum = new WebGLRenderTarget(1, 1, { type, depthBuffer: false, ...PLAIN });
  }

  /** Forget what was gathered. */
  begin(gl: WebGLRenderer, width: number, height: number): void {
    this.one.setSize(width, height);
    this.sum.setSize(width, height);
    this.count = 0;
    gl.setRenderTarget(this.sum);
    gl.setClearColor(0, 0);
    gl.clear();
  }

  /** Whether the last drawing has really been done: without waiting for it they would pile up before new work. */
  done(gl: WebGLRenderer): boolean {
    const pen = gl.getContext() as WebGL2RenderingContext;
    if (!this.fence) return true;
    if (pen.getSyncParameter(this.fence, pen.SYNC_STATUS) !== pen.SIGNALED) return false;
    pen.deleteSync(this.fence);
    this.fence = null;
    return true;
  }

  /** Add what is in `one`, by a weight; `done`, with it one drawing of everything seen is complete. */
  gather(gl: WebGLRenderer, weight = 1, done = true): void {
    SUM.uniforms.one.value = this.one.texture;
    SUM.uniforms.weight.value = weight;
    run(gl, SUM, this.sum);
    if (!done) return;
    this.count += 1;
    this.mark(gl);
  }

  /** Add a picture that is there already, by a weight. */
  lay(gl: WebGLRenderer, picture: Texture, weight: number, over: [number, number]): void {
    LAY.uniforms.one.value = picture;
    LAY.uniforms.weight.value = weight;
    LAY.uniforms.over.value = over;
    run(gl, LAY, this.sum);
  }

  /** From here on it is known when all that was asked for has been drawn. */
  mark(gl: WebGLRenderer): void {
    const pen = gl.getContext() as WebGL2RenderingContext;
    pen.deleteSync(this.fence);
    this.fence = pen.fenceSync(pen.SYNC_GPU_COMMANDS_COMPLETE, 0);
    pen.flush();
  }

  /** Put the mean of all on the screen, with some light added. */
  show(gl: WebGLRenderer, light: number[] = [0, 0, 0]): void {
    SHOW.uniforms.light.value = light;
    SHOW.uniforms.sum.value = this.sum.texture;
    SHOW.uniforms.share.value = 1 / Math.max(this.count, 1);
    run(gl, SHOW, null);
  }
}
