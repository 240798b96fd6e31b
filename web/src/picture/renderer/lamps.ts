import {
  DepthTexture,
  LessEqualCompare,
  LinearFilter,
  MathUtils,
  PerspectiveCamera,
  type Scene,
  UnsignedIntType,
  Vector3,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";
import type { Mover } from "../../api/types";
import { moverColumns } from "../../store/samples";
import { CASTS, countLamps, LIGHT } from "./paint";

/** Two lamps cast shadows. */
const MOST = 2;
const FINENESS = 1024;
/** A lamp that lights all round casts shadows so far round what is under it, degrees: most of what is lit by one. */
const ROUND_DEG = 150;
/** Nothing this near a lamp shades it: its own glass, and the hand that holds it, metres. */
const OWN_M = 0.22;
const DOWN = new Vector3(0, -1, 0);

interface Casting {
  eye: PerspectiveCamera;
  target: WebGLRenderTarget;
}

let casting: Casting[] = [];
const wants: { lamp: number }[] = [];
const at = new Vector3();

function castings(): Casting[] {
  if (casting.length === 0)
    casting = Array.from({ length: MOST }, () => {
      const depth = new DepthTexture(FINENESS, FINENESS, UnsignedIntType);
      depth.compareFunction = LessEqualCompare;
      depth.minFilter = depth.magFilter = LinearFilter;
      const eye = new PerspectiveCamera(60, 1, OWN_M, 50);
      eye.layers.set(CASTS);
      return { eye, target: new WebGLRenderTarget(FINENESS, FINENESS, { depthTexture: depth }) };
    });
  return casting;
}

/** Stand the lamps of a scene as their rows have them. */
export function standLamps(lamps: { mover: Mover; row: ArrayLike<number> }[]): void {
  countLamps(lamps.length);
  wants.length = 0;
  LIGHT.lampCasts.value = [-1, -1];
  lamps.forEach(({ mover, row }, i) => {
    const light = mover.light;
    if (!light) return;
    const of = moverColumns();
    const pan = MathUtils.degToRad(row[of.pan]);
    const tilt = MathUtils.degToRad(row[of.tilt]);
    const way = LIGHT.lampWay.value[i];
    LIGHT.lampPlace.value[i].set(row[of.x], row[of.y], row[of.z]);
    way.set(-Math.sin(pan) * Math.cos(tilt), Math.sin(tilt), -Math.cos(pan) * Math.cos(tilt));
    LIGHT.lampLight.value[i].set(light.colour).multiplyScalar(2 ** row[of.stops]);
    const half = MathUtils.degToRad(row[of.cone_deg] / 2);
    const cone = light.spread === "cone";
    LIGHT.lampShape.value[i].set(
      cone ? Math.cos(half) : -3,
      cone ? Math.cos(half * (1 - light.soft)) + 1e-4 : -2,
      light.reach_m,
    );
    if (!light.casts || wants.length === MOST) return;
    const { eye } = castings()[wants.length];
    eye.position.copy(LIGHT.lampPlace.value[i]);
    eye.up.set(0, cone && Math.abs(way.y) < 0.99 ? 1 : 0, cone && Math.abs(way.y) < 0.99 ? 0 : 1);
    eye.fov = cone ? Math.min(row[of.cone_deg] + 2, 160) : ROUND_DEG;
    eye.far = Math.max(light.reach_m, 1);
    eye.updateProjectionMatrix();
    eye.lookAt(at.copy(eye.position).add(cone ? way : DOWN));
    eye.updateMatrixWorld();
    LIGHT.toLampShade.value[wants.length]
      .set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1)
      .multiply(eye.projectionMatrix)
      .multiply(eye.matrixWorldInverse);
    wants.push({ lamp: i });
  });
}

/** Draw what each lamp that casts sees; the scene is drawn in depth alone. */
export function drawLampShadows(gl: WebGLRenderer, scene: Scene): void {
  LIGHT.lampShade0.value = LIGHT.lampShade1.value = null;
  wants.forEach((_, k) => {
    const { eye, target } = castings()[k];
    gl.setRenderTarget(target);
    gl.clear(false, true, false);
    gl.render(scene, eye);
  });
  LIGHT.lampCasts.value = [wants[0]?.lamp ?? -1, wants[1]?.lamp ?? -1];
  if (wants.length) LIGHT.lampShade0.value = castings()[0].target.depthTexture;
  if (wants.length) LIGHT.lampShade1.value = castings()[wants.length > 1 ? 1 : 0].target.depthTexture;
}
