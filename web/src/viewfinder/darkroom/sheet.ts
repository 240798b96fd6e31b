import {
  AddEquation,
  BufferAttribute,
  BufferGeometry,
  CustomBlending,
  Mesh,
  NoBlending,
  OneFactor,
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

/** A step over every pixel of a picture. */
export function step(
  uniforms: ShaderMaterial["uniforms"],
  fragmentShader: string,
  add = false,
): ShaderMaterial {
  return new ShaderMaterial({
    uniforms,
    depthTest: false,
    depthWrite: false,
    blending: add ? CustomBlending : NoBlending,
    blendEquation: AddEquation,
    blendSrc: OneFactor,
    blendDst: OneFactor,
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
