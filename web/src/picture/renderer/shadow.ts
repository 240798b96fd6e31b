import {
  DepthTexture,
  LessEqualCompare,
  LinearFilter,
  OrthographicCamera,
  type Scene,
  UnsignedIntType,
  Vector3,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";
import { drawLampShadows } from "./lamps";
import { CASTS, LIGHT, SHADE } from "./paint";

export { CASTS };

const FINENESS = 2048;
const REACH = 17;
const FAR = 40;

const eye = new OrthographicCamera(-REACH, REACH, REACH, -REACH, 1, 90);
eye.layers.set(CASTS);
const depth = new DepthTexture(FINENESS, FINENESS, UnsignedIntType);
depth.compareFunction = LessEqualCompare;
depth.minFilter = depth.magFilter = LinearFilter;
const target = new WebGLRenderTarget(FINENESS, FINENESS, { depthTexture: depth });

const shines = new Vector3();
const round = new Vector3();
const turned = new Vector3();
let gone = 0;

/** Stand the sun where it shines from, over the middle of the action. */
export function aimSun(way: Vector3, middle: Vector3): void {
  shines.copy(way);
  round.copy(middle);
  gone = 0;
  stand(way, middle);
}

/** Let the sun go round by degrees to the left, for one camera's picture. Whether it shines from elsewhere now. */
export function turnSun(degrees: number): boolean {
  if (degrees === gone) return false;
  gone = degrees;
  const a = (degrees * Math.PI) / 180;
  const { x, y, z } = shines;
  stand(turned.set(x * Math.cos(a) + z * Math.sin(a), y, z * Math.cos(a) - x * Math.sin(a)), round);
  return true;
}

function stand(way: Vector3, middle: Vector3): void {
  eye.position.copy(middle).addScaledVector(way, FAR);
  eye.lookAt(middle);
  eye.updateMatrixWorld();
  LIGHT.sunWay.value.copy(way);
  LIGHT.toShade.value
    .set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1)
    .multiply(eye.projectionMatrix)
    .multiply(eye.matrixWorldInverse);
}

/** Draw what the sun sees, and each lamp that casts, for the paint to look up. */
export function drawShadow(gl: WebGLRenderer, scene: Scene): void {
  const was = scene.overrideMaterial;
  scene.overrideMaterial = SHADE;
  LIGHT.shade.value = null;
  gl.setRenderTarget(target);
  gl.clear(false, true, false);
  gl.render(scene, eye);
  LIGHT.shade.value = depth;
  drawLampShadows(gl, scene);
  gl.setRenderTarget(null);
  scene.overrideMaterial = was;
}

/** How far a lookup strays for one of many drawings of the same picture, so that edges of shadows come out soft. */
export function strayShadow(x: number, y: number): void {
  LIGHT.shadeStep.value.set((2.2 * x) / FINENESS, (2.2 * y) / FINENESS);
}
