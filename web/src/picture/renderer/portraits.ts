import { MathUtils, type PerspectiveCamera, type Scene, type WebGLRenderer } from "three";
import type { Pose } from "../../api/types";
import { MARKS } from "../sight";
import { drawStage } from "./mirror";
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
    const room = gl.domElement;
    const [wide, high] = [Math.min(sheet.width * 2, room.width), Math.min(sheet.height * 2, room.height)];
    const per = gl.getPixelRatio();
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
    gl.setRenderTarget(null);
    gl.setViewport(0, 0, wide / per, high / per);
    gl.setScissor(0, 0, wide / per, high / per);
    gl.setScissorTest(true);
    gl.clear();
    drawStage(gl, scene, eye);
    gl.setScissorTest(false);
    gl.setViewport(0, 0, room.width / per, room.height / per);
    const pen = sheet.getContext("2d");
    if (!pen) continue;
    pen.imageSmoothingQuality = "high";
    pen.drawImage(room, 0, room.height - high, wide, high, 0, 0, sheet.width, sheet.height);
    sheet.dataset.drawn = "true";
  }
  // The others' turn comes with another picture.
  if (waiting.length) setTimeout(() => redraw(false), 30);
}
