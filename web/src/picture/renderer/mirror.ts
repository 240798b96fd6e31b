import {
  Color,
  HalfFloatType,
  Matrix4,
  PerspectiveCamera,
  type Scene,
  Vector4,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";
import { useDocument } from "../../store/document";
import { LIGHT } from "./paint";
import { CASTS } from "./shadow";

/** The reflection has this share of the picture's pixels each way: ripples blur it anyway. */
const SHARE = 0.5;

const target = new WebGLRenderTarget(1, 1, { type: HalfFloatType });

/** What water looks its reflection up in: a picture of what stands over it, seen from under it. */
export const MIRROR = {
  mirror: { value: target.texture },
  /** From a place on the stage to a place in that picture. */
  toMirror: { value: new Matrix4() },
  /** 0 without a reflection to look up. */
  mirrored: { value: 0 },
};

const below = new PerspectiveCamera();
below.layers.set(CASTS);
below.matrixWorldAutoUpdate = false;

const UPSIDE_DOWN = new Matrix4().makeScale(1, -1, 1);
const LEFT_RIGHT = new Matrix4().makeScale(-1, 1, 1);
const TO_SHARES = new Matrix4().set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1);
const size = new Vector4();
const surface = new Vector4();
const corner = new Vector4();
const colour = new Color();

/** Draw the stage as an eye sees it, with what water reflects. */
export function drawStage(gl: WebGLRenderer, scene: Scene, eye: PerspectiveCamera): void {
  const wet = useDocument.getState().shown?.surround.water && eye.position.y > 0;
  MIRROR.mirrored.value = 0;
  if (wet) {
    reflect(gl, scene, eye);
    MIRROR.mirrored.value = 1;
  }
  gl.render(scene, eye);
}

function reflect(gl: WebGLRenderer, scene: Scene, eye: PerspectiveCamera): void {
  const into = gl.getRenderTarget();
  gl.getCurrentViewport(size);
  target.setSize(Math.max(Math.round(size.z * SHARE), 1), Math.max(Math.round(size.w * SHARE), 1));
  // Turned over in height it would be a left hand: it is turned over across as well, its projection with it.
  below.matrixWorld.copy(UPSIDE_DOWN).multiply(eye.matrixWorld).multiply(LEFT_RIGHT);
  below.matrixWorldInverse.copy(below.matrixWorld).invert();
  below.projectionMatrix.copy(LEFT_RIGHT).multiply(eye.projectionMatrix).multiply(LEFT_RIGHT);
  MIRROR.toMirror.value.copy(TO_SHARES).multiply(below.projectionMatrix).multiply(below.matrixWorldInverse);
  clipAtSurface();
  below.projectionMatrixInverse.copy(below.projectionMatrix).invert();
  const alpha = gl.getClearAlpha();
  gl.getClearColor(colour);
  gl.setRenderTarget(target);
  gl.setClearColor(0, 0);
  gl.clear();
  const { value } = LIGHT.gain;
  LIGHT.gain.value = 1;
  gl.render(scene, below);
  LIGHT.gain.value = value;
  gl.setClearColor(colour, alpha);
  gl.setRenderTarget(into);
}

/** The water's surface as the near plane of the eye below it (Lengyel's oblique frustum): nothing under it is seen. */
function clipAtSurface(): void {
  // A plane transforms by the inverse transpose: here, of the height over the water.
  const w = below.matrixWorld.elements;
  surface.set(w[1], w[5], w[9], w[13]);
  const p = below.projectionMatrix.elements;
  corner.set(
    (Math.sign(surface.x) + p[8]) / p[0],
    (Math.sign(surface.y) + p[9]) / p[5],
    -1,
    (1 + p[10]) / p[14],
  );
  surface.multiplyScalar(2 / surface.dot(corner));
  p[2] = surface.x;
  p[6] = surface.y;
  p[10] = surface.z + 1;
  p[14] = surface.w;
}
