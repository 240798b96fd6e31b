import type { PerspectiveCamera, Scene, WebGLRenderer, WebGLRenderTarget } from "three";
import { type Glass, nudge, type Sight, stand, sunTurn, through } from "../sight";
import { withoutHeads } from "./heads";
import { drawStage } from "./mirror";
import { opening } from "./opening";
import { LIGHT } from "./paint";
import type { Quick } from "./quick";
import { drawShadow, strayShadow, turnSun } from "./shadow";

/** Steps of the plane-filling sequence with the greatest least distance (Roberts' R2). */
const R2 = [0.7548776662466927, 0.5698402909980532];

/** Let the sun shine as it does in one picture: it may ride with the camera. */
export function shine(gl: WebGLRenderer, scene: Scene, sight: Sight): void {
  if (turnSun(sunTurn(sight))) drawShadow(gl, scene);
}

/**
 * One drawing of one sight into its part of a target, or of the screen: from the middle of the lens, or as the n-th of
 * a picture at rest from elsewhere in its opening, moved by a part of a pixel.
 */
export function drawOne(
  gl: WebGLRenderer,
  scene: Scene,
  eye: PerspectiveCamera,
  into: WebGLRenderTarget | null,
  sight: Sight,
  n: number | null,
  blur: boolean,
): Glass | null {
  const { width, height } = gl.domElement;
  const [x, y, w, h] = sight.box;
  const [wide, high] = [w * width, h * height];
  shine(gl, scene, sight);
  gl.setRenderTarget(into);
  const glass = stand(eye, sight, wide, high);
  LIGHT.gain.value = glass?.gain ?? 1;
  if (n !== null) {
    const [dx, dy] = R2.map((r) => ((0.5 + n * r) % 1) - 0.5);
    strayShadow(n ? dx : 0, n ? dy : 0);
    const points = glass && blur ? opening(glass.blades) : null;
    if (glass && points) through(eye, glass, points[2 * n], points[2 * n + 1]);
    nudge(eye, dx, dy, wide, high);
  }
  const draw = () => withoutHeads(sight.without, () => drawStage(gl, scene, eye));
  if (w < 1 || h < 1)
    within(gl, into, [x * width, y * height, wide, high], () => {
      gl.clear();
      draw();
    });
  else draw();
  return glass;
}

/** The same as the lens sees it, blurred by its depth in one go: what one of several pictures is while things move. */
export function drawBlurred(
  gl: WebGLRenderer,
  scene: Scene,
  eye: PerspectiveCamera,
  into: WebGLRenderTarget | null,
  sight: Sight,
  quick: Quick,
): void {
  const { width, height } = gl.domElement;
  const [x, y, w, h] = sight.box;
  const box = [x * width, y * height, w * width, h * height].map(Math.round);
  quick.resize(box[2], box[3]);
  gl.setRenderTarget(quick.one);
  gl.clear();
  const glass = drawOne(gl, scene, eye, quick.one, { ...sight, box: [0, 0, 1, 1] }, null, true);
  if (glass) within(gl, into, box, () => quick.show(gl, eye, glass, into));
}

/** Draw in a box alone of a target, or of the screen; the box is in the target's pixels. */
function within(gl: WebGLRenderer, into: WebGLRenderTarget | null, box: number[], draw: () => void): void {
  const { width, height } = gl.domElement;
  // Targets are measured in pixels, the screen in the page's own.
  const per = into ? 1 : gl.getPixelRatio();
  const [x, y, w, h] = box.map((v) => Math.round(v / per));
  if (into) {
    into.viewport.set(x, y, w, h);
    into.scissor.set(x, y, w, h);
    into.scissorTest = true;
    gl.setRenderTarget(into);
    draw();
    into.viewport.set(0, 0, width, height);
    into.scissor.set(0, 0, width, height);
    into.scissorTest = false;
  } else {
    gl.setViewport(x, y, w, h);
    gl.setScissor(x, y, w, h);
    gl.setScissorTest(true);
    draw();
    gl.setScissorTest(false);
    gl.setViewport(0, 0, width / per, height / per);
  }
}
