import { Canvas, useFrame, useThree } from "@react-three/fiber";
import { Suspense, useEffect, useRef } from "react";
import { PCFShadowMap, type PerspectiveCamera } from "three";
import { useDocument } from "../store/document";
import { useLoose } from "../store/loose";
import { useMoment } from "../store/moment";
import { useView } from "../store/view";
import { CameraBodies } from "./camera-bodies";
import { Figures, Movers } from "./figures";
import { takePlace } from "./frame-of";
import { Hand } from "./hand";
import { Pieces, SelectedPieces } from "./pieces";
import { SurroundOfStage } from "./surround";

/** Puts the eye in place before each drawing, and asks for one whenever something changed. */
function Eye() {
  const { camera, size, invalidate, gl } = useThree();
  useEffect(() => {
    const draw = () => invalidate();
    const redraw = () => {
      gl.shadowMap.needsUpdate = true;
      invalidate();
    };
    const ends = [
      useMoment.subscribe(redraw),
      useDocument.subscribe(redraw),
      useView.subscribe(draw),
      useLoose.subscribe(draw),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [invalidate, gl]);
  useFrame(() => {
    takePlace(camera as PerspectiveCamera, size.width, size.height);
  });
  return null;
}

const SETTLED_MS = 180;
const COARSEST = 0.5;

/** Fewer pixels while things move and drawing is slow; twice as fine once they rest. */
function Sharpness() {
  const { setDpr, gl, invalidate } = useThree();
  const share = useRef(1);
  const last = useRef(0);
  const fine = useRef(false);
  const slow = useRef(0);
  useEffect(() => {
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    let timer = 0;
    const moved = () => {
      if (fine.current) {
        fine.current = false;
        setDpr(share.current * window.devicePixelRatio);
      }
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        if (useMoment.getState().playing) return;
        fine.current = true;
        gl.shadowMap.needsUpdate = true;
        setDpr(Math.max(2, window.devicePixelRatio));
        invalidate();
      }, SETTLED_MS);
    };
    moved();
    const ends = [useMoment.subscribe(moved), useDocument.subscribe(moved), useView.subscribe(moved)];
    return () => {
      window.clearTimeout(timer);
      for (const end of ends) end();
    };
  }, [setDpr, gl, invalidate]);
  useFrame(() => {
    const now = performance.now();
    const took = now - last.current;
    last.current = now;
    // Only a run of frames says anything about speed; a step down stays until the picture rests.
    slow.current =
      fine.current || took > 400 ? 0 : took > 70 ? slow.current + 1 : Math.max(slow.current - 2, 0);
    if (slow.current < 8 || share.current <= COARSEST) return;
    slow.current = 0;
    share.current = Math.max(share.current - 0.25, COARSEST);
    setDpr(share.current * window.devicePixelRatio);
  });
  return null;
}

function Ready() {
  const shown = useRef(false);
  const there = useDocument((s) => s.shown !== null);
  const invalidate = useThree((s) => s.invalidate);
  // The shapes may arrive after the last drawing that anyone asked for.
  useEffect(() => invalidate(), [invalidate]);
  useFrame(({ gl }) => {
    if (shown.current || !there) return;
    shown.current = true;
    gl.shadowMap.needsUpdate = true;
    performance.mark("first-picture");
    gl.domElement.dataset.ready = "true";
  });
  return null;
}

/** The stage drawn from where the picture looks. */
export function Picture() {
  return (
    <Canvas
      frameloop="demand"
      flat
      shadows={{ type: PCFShadowMap }}
      gl={{ antialias: false, powerPreference: "high-performance" }}
      camera={{ manual: true } as never}
      // Asking for each program's errors would wait for its compilation, one after the other.
      onCreated={({ gl }) => {
        gl.debug.checkShaderErrors = false;
      }}
      style={{ touchAction: "none" }}
      aria-label="The stage through the chosen viewpoint"
      role="img"
    >
      <Eye />
      <Sharpness />
      <Hand />
      <SurroundOfStage />
      <Suspense fallback={null}>
        <Pieces />
        <SelectedPieces />
        <Ready />
      </Suspense>
      <Figures />
      <Movers />
      <CameraBodies />
    </Canvas>
  );
}
