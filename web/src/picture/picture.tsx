import { Suspense, useRef, useState } from "react";
import { PerspectiveCamera } from "three";
import { useHold } from "../ui/hold";
import { CameraBodies } from "./camera-bodies";
import { Figures, Movers } from "./figures";
import { type Dropped, type Grip, HandInPicture, type Keys } from "./hand/hand";
import { Lamps } from "./lamps";
import { Pieces, SelectedPieces } from "./pieces";
import { Renderer } from "./renderer/renderer";
import { Surface } from "./surface";
import { SurroundOfStage } from "./surround";

/** An eye that stands where the samples say: nobody else sets its projection. */
function eye(): PerspectiveCamera & { manual: true } {
  return Object.assign(new PerspectiveCamera(), { manual: true as const });
}

/** The stage drawn from where the picture looks. */
export function Picture({ width, height }: { width: number; height: number }) {
  const [camera] = useState(eye);
  const grip = useRef<Grip>(null);
  const keys = useRef<Keys>(null);
  const dropped = useRef<Dropped>(null);
  const hold = useHold();
  return (
    <div
      className="h-full w-full touch-none -outline-offset-2"
      role="application"
      data-region-start
      aria-label="Picture: the arrows look about"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a surface that is worked by keys
      tabIndex={0}
      onKeyDown={(e) => keys.current?.(e)}
      // The desk takes the files.
      onDrop={(e) => e.dataTransfer.types.includes("Files") && dropped.current?.(e)}
      onContextMenu={(e) => e.preventDefault()}
      {...hold((e) => grip.current?.(e) ?? null)}
    >
      <Surface
        width={width}
        height={height}
        frameloop="demand"
        flat
        gl={{ antialias: false, powerPreference: "high-performance" }}
        camera={camera}
        // Asking for each program's errors would wait for its compilation, one after the other.
        onCreated={({ gl }) => {
          gl.debug.checkShaderErrors = false;
        }}
        label="The stage through the chosen viewpoint"
      >
        <Renderer />
        <HandInPicture grip={grip} keys={keys} dropped={dropped} />
        <SurroundOfStage />
        <Suspense fallback={null}>
          <Pieces />
          <SelectedPieces />
        </Suspense>
        <Figures />
        <Movers />
        <Lamps />
        <CameraBodies />
      </Surface>
    </div>
  );
}
