import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { PerspectiveCamera, Scene, WebGLRenderTarget } from "three";
import { useAgainst } from "../../store/against";
import { useDocument } from "../../store/document";
import { asShot, sceneDrawn } from "../../store/dressing";
import { firstPicture } from "../../store/first";
import { useHandles } from "../../store/handles";
import { useLive } from "../../store/live";
import type { Looks } from "../../store/looks";
import { rate, useMoment } from "../../store/moment";
import { usePreferences } from "../../store/preferences";
import { useVersions } from "../../store/samples";
import { useUnsaved } from "../../store/unsaved";
import { useView } from "../../store/view";
import { mixNow } from "../mixing";
import { shotsWait } from "../shot-pictures";
import {
  type Glass,
  openShutter,
  otherSight,
  overscan,
  type Sight,
  sights,
  stand,
  wallHeight,
} from "../sight";
import { wallIsUp } from "../wall";
import { Accumulation, sizing } from "./accumulation";
import { complete, onlyCameras, pictureDiffers, stageDiffers } from "./differs";
import { withoutHeads } from "./heads";
import { drawStage } from "./mirror";
import { drawBlurred, drawOne, shine } from "./one-sight";
import { opening, throughLens } from "./opening";
import { LIGHT } from "./paint";
import { drawPortraits, drawShot } from "./portraits";
import { poseStage } from "./posing";
import { Quick } from "./quick";
import { drawn, onIdle, onRedraw, pixelRatio } from "./redraw";
import { drawShadow, strayShadow } from "./shadow";
import { slateTexture } from "./slate-textures";
import { drawSmall, small } from "./small";
import { WallTurns } from "./wall-turns";

const SETTLED_MS = 140;
/** While a hand tries something out, the picture at rest is not worked on: it would keep the hand waiting. */
const TRYING_MS = 400;
const COARSEST = 0.5;
/** Pictures of shots are drawn for so long before a hand is looked after again. */
const SHOTS_MS = 50;
/** Drawings that a picture at rest is made of: smooth edges, and soft edges of shadows. */
const PLAIN = 16;
/** Drawings of the frames at an edge that is trimmed: each needs the stage posed again. */
const AT_EDGES = 4;
/** Drawings through a lens that already look like one picture. */
const ENOUGH = 12;
const EVERY = 6;
/** Things in this layer are drawn over the finished picture, never blurred. */
export const OVER = 4;

/**
 * Draws the picture: once and quickly while things move, with fewer pixels where drawing is slow;
 * once it rests, again and again into one clean picture, a drawing at a time so that input is never kept waiting.
 */
export function Renderer() {
  const { invalidate, gl, setDpr } = useThree();
  const accumulated = useMemo(() => new Accumulation(gl), [gl]);
  const quick = useMemo(() => new Quick(), []);
  const quickSmall = useMemo(() => new Quick(), []);
  const quickOfMany = useMemo(() => new Quick(), []);
  const turns = useMemo(() => new WallTurns(), []);
  const now = useRef({
    shadowStale: true,
    fresh: true,
    share: 1,
    last: 0,
    slow: 0,
    timer: 0,
    shown: false,
    room: 0,
    // The small picture waits first: it is drawn with every one, or every few, of the big one's.
    every: 1,
    turn: 0,
    /** The turn at which the wall last rested. */
    rests: 0,
    smallDue: false,
    /** The frame that the shadows were drawn at, and the scene. */
    shaded: Number.NaN,
    shadedOf: null as unknown,
    /** When something was last tried out. */
    tried: Number.NEGATIVE_INFINITY,
  });
  useEffect(() => {
    gl.autoClear = false;
    const state = now.current;
    const moved = (shadows: boolean) => {
      state.shadowStale ||= shadows;
      state.fresh = true;
      window.clearTimeout(state.timer);
      invalidate();
    };
    const ends = [
      onRedraw(moved),
      onIdle(invalidate),
      useMoment.subscribe((s, was) => moved(s.stage !== was.stage)),
      useDocument.subscribe((s, was) => {
        if (s.overlay !== was.overlay && s.overlay) state.tried = performance.now();
        if (pictureDiffers(s, was)) moved(stageDiffers(s, was));
      }),
      useVersions.subscribe((s, was) => s.of !== was.of && moved(!onlyCameras(s.of, was.of))),
      useView.subscribe(() => moved(false)),
      usePreferences.subscribe(() => moved(false)),
      useAgainst.subscribe(() => moved(false)),
      useLive.subscribe((s, was) => s.camera !== was.camera && moved(false)),
      useUnsaved.subscribe(() => moved(false)),
    ];
    return () => {
      window.clearTimeout(state.timer);
      for (const end of ends) end();
    };
  }, [invalidate, gl]);

  // The eye stands before everything that looks at where it is.
  useFrame(({ camera, size }) => {
    const first = sights(1, 1)[0];
    if (first) stand(camera as PerspectiveCamera, first, size.width, size.height);
  }, -1);

  useFrame(({ camera, scene, size }) => {
    const state = now.current;
    const eye = camera as PerspectiveCamera;
    const there = useDocument.getState().shown;
    if (!there || gl.domElement.width < 2) return;
    const room = size.width * 10_000 + size.height;
    wallHeight.pixels = gl.domElement.clientHeight;
    if (room !== state.room) state.fresh = true;
    state.room = room;
    const resting = !state.fresh;
    // Set again, even to what it is, it would ask for another drawing, and that for one more.
    if (resting && gl.getPixelRatio() !== pixelRatio()) setDpr(pixelRatio());
    const { stage: moment, playing } = useMoment.getState();
    let again = state.fresh;
    /** Stand the stage as it is at a frame, with its shadows. */
    const stage = (frame: number) => {
      LIGHT.seconds.value = frame / rate();
      const moved = poseStage(frame, again);
      again = false;
      const of = sceneDrawn();
      const others = frame !== state.shaded || of !== state.shadedOf;
      if (!(moved && others) && !state.shadowStale) return;
      // Where drawing is slow, shadows may be a picture late while things move.
      if (playing && state.share < 1 && state.turn % 2) return;
      drawShadow(gl, scene);
      state.shaded = frame;
      state.shadedOf = of;
      state.shadowStale = false;
    };
    const { width, height } = gl.domElement;
    const { looks } = useView.getState();
    LIGHT.flat_.value = looks.judge === "silhouettes" ? 1 : 0;
    const all = sights(there.delivery.aspect, width / height);
    const alone = all.length === 1 ? all[0] : null;
    const byTurns = playing && all.length > 1 && wallIsUp();
    if (!byTurns) state.rests = state.turn;

    /** One drawing of everything seen; `n` counts the drawings of a picture at rest. */
    const draw = (
      into: WebGLRenderTarget | null,
      n: number | null,
      some: Sight[] | null = null,
    ): Glass | null => {
      let lens: Glass | null = null;
      const open = n === null ? null : openShutter();
      const at = open ? moment - open[0] + spread(n as number) * (open[0] + open[1]) : moment;
      const seen = some ?? (open ? sights(there.delivery.aspect, width / height, at) : all);
      gl.setRenderTarget(into);
      gl.setClearColor(useView.getState().dim ? 0x3c3c3c : 0x777777, 1);
      if (seen.length >= all.length) gl.clear();
      for (const sight of seen) {
        const pose = () => stage(sight.frame ?? at + (sight.later ?? 0));
        if (sight.shot === undefined) pose();
        else asShot(sight.shot, pose);
        gl.setRenderTarget(into);
        if (n === null && looks.blur && all.length > 1 && sight.row)
          drawBlurred(gl, scene, eye, into, sight, quickOfMany);
        else lens = drawOne(gl, scene, eye, into, sight, n, looks.blur);
      }
      return lens;
    };

    const mix = mixNow();
    /** The same of a picture that is mixed, added to what was gathered. */
    const gatherMixed = (n: number | null) => {
      const open = n === null ? null : openShutter();
      const at = open ? moment - open[0] + spread(n as number) * (open[0] + open[1]) : moment;
      for (const sight of open ? sights(there.delivery.aspect, width / height, at) : all) {
        asShot(sight.shot ?? null, () => stage(at + (sight.later ?? 0)));
        const glass = n === null && looks.blur ? stand(eye, sight, width, height) : null;
        if (glass) quick.resize(width, height);
        const into = glass ? quick.one : accumulated.one;
        gl.setRenderTarget(into);
        gl.setClearColor(0x777777, 1);
        gl.clear();
        drawOne(gl, scene, eye, into, sight, n, looks.blur);
        if (glass) quick.show(gl, eye, glass, accumulated.one);
        accumulated.gather(gl, sight.weight, false);
      }
      for (const slate of mix?.slates ?? []) {
        const picture = slateTexture(slate.shot);
        if (picture) accumulated.lay(gl, picture, slate.weight, overscan()?.over ?? [1, 1]);
      }
      accumulated.count += 1;
      accumulated.mark(gl);
    };

    if (resting && state.smallDue) {
      // It was left out while things moved: once more, and the big one over it.
      state.fresh = true;
      state.every = 1;
      invalidate();
    }
    if (!resting) {
      strayShadow(0, 0);
      state.turn += 1;
      // What plays is watched in the big one: the small one keeps up as it can.
      const every = playing ? Math.max(state.every, state.share < 1 ? 8 : 4) : state.every;
      if (state.shown) {
        stage(moment);
        drawPortraits(gl, scene, eye);
      }
      // The first picture waits for no second one.
      if (state.shown && state.turn % every === 0) {
        stage(moment);
        lay(eye, scene, looks.blur);
      } else state.smallDue = true;
      const glass = alone?.row ? stand(eye, alone, width, height) : null;
      if (mix) {
        accumulated.begin(gl, width, height);
        gatherMixed(null);
        accumulated.show(gl, mix.light);
      } else if (glass && (looks.blur || looks.sharp)) {
        quick.resize(width, height);
        draw(quick.one, null);
        quick.show(gl, eye, looks.blur ? glass : { ...glass, across: 0, up: 0 });
        if (looks.sharp) quick.mark(gl, eye, glass);
      } else if (byTurns) {
        accumulated.begin(gl, width, height);
        draw(accumulated.one, null, turns.next(all, `${width} ${height} ${all.length} ${state.rests}`));
        accumulated.gather(gl);
        accumulated.show(gl);
      } else draw(null, null);
      over(eye, scene, alone, width, height);
      accumulated.mark(gl);
      state.fresh = false;
      accumulated.count = 0;
      if (playing) (!byTurns || turns.fewest) && slowDown();
      else {
        state.last = 0;
        state.timer = window.setTimeout(invalidate, SETTLED_MS);
      }
    } else if (accumulated.count < wanted(all, looks) && !sizing.waits) {
      const rest = state.tried + TRYING_MS - performance.now();
      if (rest > 0 && !all.some((sight) => sight.frame !== undefined)) {
        window.clearTimeout(state.timer);
        state.timer = window.setTimeout(invalidate, rest);
        return;
      }
      if (!accumulated.done(gl)) {
        invalidate();
        return;
      }
      if (accumulated.count === 0) {
        if (looks.sharp && alone?.row) {
          quick.resize(width, height);
          draw(quick.one, null);
        }
        accumulated.begin(gl, width, height);
      }
      const most = wanted(all, looks);
      if (mix) gatherMixed(accumulated.count);
      else draw(accumulated.one, accumulated.count);
      const { triangles, calls } = gl.info.render;
      gl.domElement.dataset.cost = `${triangles} ${calls}`;
      if (!mix) accumulated.gather(gl);
      if (accumulated.count < most) invalidate();
      else if (openShutter()) stage(moment);
      // Whoever points at something meanwhile looks from the middle of the lens.
      const glass = alone ? stand(eye, alone, width, height) : null;
      // Too few views through a lens stand beside each other as ghosts: the quick picture stays until
      // then. After that not every drawing is shown, since showing costs the page a painting.
      if (
        most === throughLens() &&
        accumulated.count < most &&
        (accumulated.count < ENOUGH || accumulated.count % EVERY)
      )
        return;
      accumulated.show(gl, mix?.light);
      if (glass && looks.sharp) quick.mark(gl, eye, glass);
      over(eye, scene, alone, width, height);
      gl.domElement.dataset.drawings = String(accumulated.count);
      drawn(accumulated.count, most);
      if (accumulated.count >= most && shotsWait()) invalidate();
    } else if (resting && state.shown && shotsWait()) {
      // The big picture has to be drawn again after them: as many at once as make no hand wait.
      const ends = performance.now() + SHOTS_MS;
      LIGHT.flat_.value = 0;
      do drawShot(gl, scene, eye, stage);
      while (shotsWait() && performance.now() < ends);
      // Whatever looks at the stage between two drawings finds it as it is shown; its shadows are drawn when they are seen.
      poseStage(moment, false);
      state.shadowStale = true;
      if (accumulated.count) {
        accumulated.show(gl, mix?.light);
        const glass = looks.sharp && alone ? stand(eye, alone, width, height) : null;
        if (glass) quick.mark(gl, eye, glass);
        over(eye, scene, alone, width, height);
        if (shotsWait()) invalidate();
      } else {
        state.fresh = true;
        invalidate();
      }
    }
    if (!resting) {
      gl.domElement.dataset.drawings = "0";
      drawn(0, wanted(all, looks));
    }
    if (!state.shown && complete(scene, there)) {
      state.shown = true;
      performance.mark("first-picture");
      firstPicture();
      gl.domElement.dataset.ready = "true";
    }
  }, 1);

  /** The small picture, before the big one. */
  function lay(eye: PerspectiveCamera, scene: Scene, blur: boolean): void {
    now.current.smallDue = false;
    const sight = small.sheet && otherSight();
    if (!sight) return;
    shine(gl, scene, sight);
    drawSmall(gl, (wide, high) =>
      withoutHeads(sight.without, () => {
        const glass = stand(eye, sight, wide, high);
        LIGHT.gain.value = glass?.gain ?? 1;
        if (!glass || !blur) return drawStage(gl, scene, eye);
        quickSmall.resize(wide, high);
        gl.setRenderTarget(quickSmall.one);
        gl.clear();
        drawStage(gl, scene, eye);
        quickSmall.show(gl, eye, glass);
      }),
    );
  }

  /** Marks that lie over the picture. */
  function over(eye: PerspectiveCamera, scene: Scene, sight: Sight | null, width: number, height: number) {
    if (!sight || !(useView.getState().joint || useHandles.getState().figure)) return;
    stand(eye, sight, width, height);
    gl.setRenderTarget(null);
    const was = eye.layers.mask;
    eye.layers.set(OVER);
    gl.render(scene, eye);
    eye.layers.mask = was;
  }

  /** Only a run of slow pictures says anything about speed; a step down stays until the picture rests. */
  function slowDown() {
    const state = now.current;
    const at = performance.now();
    const took = state.last ? at - state.last : 0;
    state.last = at;
    state.slow = took > 400 ? 0 : took > 60 ? state.slow + 1 : Math.max(state.slow - 2, 0);
    if (state.slow < 6 || state.share <= COARSEST) return;
    state.slow = 0;
    if (small.sheet && state.every < 8) {
      state.every *= 2;
      return;
    }
    state.share = Math.max(state.share - 0.25, COARSEST);
    setDpr(state.share * pixelRatio());
  }
  return null;
}

/** A lens's picture needs many drawings; one without, or not yet told how its opening is shaped, only a few. */
function wanted(seen: Sight[], looks: Looks): number {
  if (!looks.refine) return 0;
  const lens = looks.blur && seen.some((sight) => sight.row && opening(sight.blades));
  if (seen.some((sight) => sight.frame !== undefined)) return AT_EDGES;
  return seen.length === 0 ? 0 : lens || openShutter() ? throughLens() : PLAIN;
}

/** A share of the open shutter for each drawing: whatever their number, evenly spread (the radical inverse to base 2). */
function spread(n: number): number {
  let [share, digit] = [0.5 / throughLens(), 0.5];
  for (let rest = n; rest > 0; rest >>= 1, digit /= 2) if (rest & 1) share += digit;
  return share;
}
