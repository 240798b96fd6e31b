import {
  AddEquation,
  BufferAttribute,
  BufferGeometry,
  CustomBlending,
  Mesh,
  NoBlending,
  OneFactor,
  OneMinusSrcAlphaFactor,
  OrthographicCamera,
  ShaderMaterial,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from "three";

const eye = new OrthographicCamera();
const triangle = new BufferGeometry().setAttribute(
  "position",
  new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3),
);
const mesh = new Mesh(triangle);
mesh.frustumCulled = false;

/** A step over every pixel of a picture; over takes colours already multiplied by their cover. */
export function step(
  uniforms: ShaderMaterial["uniforms"],
  fragmentShader: string,
  how: "replace" | "add" | "over" = "replace",
): ShaderMaterial {
  return new ShaderMaterial({
    uniforms,
    depthTest: false,
    depthWrite: false,
    blending: how === "replace" ? NoBlending : CustomBlending,
    blendEquation: AddEquation,
    blendSrc: OneFactor,
    blendDst: how === "add" ? OneFactor : OneMinusSrcAlphaFactor,
    vertexShader:
      "varying vec2 at; void main() { at = position.xy * 0.5 + 0.5; gl_Position = vec4(position.xy, 0.0, 1.0); }",
    fragmentShader,
  });
}

/** Run a step into a target, or on to the screen. */
export function run(gl: WebGLRenderer, what: ShaderMaterial, into: WebGLRenderTarget | null): void {
  mesh.material = what;
  gl.setRenderTarget(into);
  gl.render(mesh, eye);
}
