import { MathUtils, type PerspectiveCamera, type Scene, type WebGLRenderer } from "three";
import type { Pose } from "../../api/types";
import { asShot } from "../../store/dressing";
import { rowOf } from "../../store/samples";
import { drawNextShot } from "../shot-pictures";
import { MARKS, seenBy, stand } from "../sight";
import { withoutHeads } from "./heads";
import { drawInCorner } from "./in-corner";
import { drawStage } from "./mirror";
import { shine } from "./one-sight";
import { LIGHT } from "./paint";
import { redraw } from "./redraw";

/** A small picture that somebody waits for: of the stage from a pose, through an angle upright in degrees. */
interface Wanted {
  sheet: HTMLCanvasElement;
  pose: Pose;
  angle: number;
}

const waiting: Wanted[] = [];
/** As many as are drawn before the big picture, so that it is not kept waiting long. */
const AT_ONCE = 2;

/** Have a small picture drawn on a sheet as soon as there is time. */
export function portray(sheet: HTMLCanvasElement, pose: Pose, angle: number): void {
  const at = waiting.findIndex((one) => one.sheet === sheet);
  if (at >= 0) waiting.splice(at, 1);
  waiting.push({ sheet, pose, angle });
  redraw(false);
}

/** Draw some of those that are waited for, in a corner of the big picture's sheet: that must be drawn after them. */
export function drawPortraits(gl: WebGLRenderer, scene: Scene, eye: PerspectiveCamera): void {
  for (const { sheet, pose, angle } of waiting.splice(0, AT_ONCE)) {
    drawInCorner(gl, sheet, (wide, high) => {
      eye.position.set(pose.x, pose.y, pose.z);
      eye.rotation.set(
        MathUtils.degToRad(pose.tilt),
        MathUtils.degToRad(pose.pan),
        MathUtils.degToRad(pose.roll),
        "YXZ",
      );
      eye.near = 0.05;
      eye.far = 2400;
      eye.fov = angle;
      eye.aspect = wide / high;
      eye.updateProjectionMatrix();
      eye.updateMatrixWorld();
      eye.layers.disable(MARKS);
      LIGHT.gain.value = 1;
      drawStage(gl, scene, eye);
    });
  }
  // The others' turn comes with another picture.
  if (waiting.length) setTimeout(() => redraw(false), 30);
}

/** Draw the next picture of a shot that is waited for; the stage stands elsewhere afterwards. */
export function drawShot(
  gl: WebGLRenderer,
  scene: Scene,
  eye: PerspectiveCamera,
  stage: (frame: number) => void,
): void {
  drawNextShot(({ shot, camera, frame }, sheet) =>
    asShot(shot, () => {
      const row = rowOf(camera, frame);
      if (!row) return false;
      const sight = seenBy(camera, row, frame);
      stage(frame);
      shine(gl, scene, sight);
      drawInCorner(gl, sheet, (wide, high) => {
        LIGHT.gain.value = stand(eye, sight, wide, high)?.gain ?? 1;
        withoutHeads(sight.without, () => drawStage(gl, scene, eye));
      });
      return true;
    }),
  );
}
