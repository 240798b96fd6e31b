import { Canvas } from "@react-three/fiber";
import { Suspense } from "react";
import { CameraBodies } from "./camera-bodies";
import { Develop } from "./darkroom/develop";
import { Figures, Movers } from "./figures";
import { Hand } from "./hand";
import { Pieces, SelectedPieces } from "./pieces";
import { SurroundOfStage } from "./surround";

/** The stage drawn from where the picture looks. */
export function Picture() {
  return (
    <Canvas
      frameloop="demand"
      flat
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
      <Develop />
      <Hand />
      <SurroundOfStage />
      <Suspense fallback={null}>
        <Pieces />
        <SelectedPieces />
      </Suspense>
      <Figures />
      <Movers />
      <CameraBodies />
    </Canvas>
  );
}
