import {
  ChevronFirst,
  ChevronLast,
  Pause,
  Play,
  Repeat,
  Rewind,
  Scissors,
  StepBack,
  StepForward,
} from "lucide-react";
import { lazy, Suspense } from "react";
import { useDocument } from "../store/document";
import { go, rate, span, step, toggle, useMoment } from "../store/moment";
import { useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { fetched } from "../ui/fetched";
import { addShot, cutHere } from "../verbs/cutting";
import { filmOf } from "../verbs/film";
import { nextSpeed } from "../verbs/navigation";
import { Clocks } from "./clocks";
import { LivePanel } from "./live-panel";

const SoundSwitch = lazy(() => fetched(() => import("../sound/switch")));
const Neighbours = lazy(() => fetched(() => import("./neighbours")));

export function Transport() {
  const id = useDocument((s) => s.id);
  const playing = useMoment((s) => s.playing);
  const looping = useMoment((s) => s.looping);
  const clock = useMoment((s) => s.clock);
  const loop = useMoment((s) => s.loop);
  const speed = useMoment((s) => s.speed);
  const preroll = useMoment((s) => s.preroll);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const through = useView((s) => s.through);
  const scene = useDocument((s) => s.scene);
  const wanted = kind === "camera" ? ids[0] : typeof through === "object" ? through.camera : null;
  const camera = scene?.cameras.find((c) => c.id === wanted);
  return (
    <div className="flex h-10 items-center gap-1.5 border-b border-line bg-paper px-2">
      <Button tip="To the first frame" hint="Home" onClick={() => go(span(clock).first)}>
        <ChevronFirst size={16} />
      </Button>
      <Button tip="Previous frame" hint="←" onClick={() => step(-1)}>
        <StepBack size={15} />
      </Button>
      <Button
        tone="main"
        tip={playing ? "Pause" : clock === "cut" ? "Play the cut" : "Play the stage"}
        hint="Space; backwards Shift Space"
        className="w-10"
        onClick={toggle}
      >
        {playing ? <Pause size={16} /> : <Play size={16} />}
      </Button>
      <Button tip="Next frame" hint="→" onClick={() => step(1)}>
        <StepForward size={15} />
      </Button>
      <Button tip="To the last frame" hint="End" onClick={() => go(span(clock).last)}>
        <ChevronLast size={16} />
      </Button>
      <Button
        tip={
          loop
            ? `Loop ${loop.first}–${loop.last}; Shift Esc clears the range`
            : "Loop; Shift Home and Shift End set a range"
        }
        on={looping}
        onClick={() => useMoment.setState({ looping: !looping })}
      >
        <Repeat size={15} />
      </Button>
      <Button
        tip="How fast it plays: as it is, half as fast, a quarter as fast"
        hint="R"
        on={speed < 1}
        className="w-9"
        onClick={nextSpeed}
      >
        {speed === 1 ? "1×" : speed === 0.5 ? "½×" : "¼×"}
      </Button>
      {loop && (
        <Button
          tip="Begin half a second before the loop, each time round"
          on={preroll > 0}
          onClick={() => useMoment.setState({ preroll: preroll ? 0 : Math.round(rate() / 2) })}
        >
          <Rewind size={14} />
        </Button>
      )}
      {scene?.sounds.length || scene?.lines.length ? (
        <Suspense>
          <SoundSwitch />
        </Suspense>
      ) : null}
      <span className="mx-2 h-6 border-l border-line" />
      <Clocks />
      <span className="flex-1" />
      {id !== null && filmOf() && (
        <Suspense>
          <Neighbours key={id} scene={id} />
        </Suspense>
      )}
      <LivePanel />
      <Button
        tip={
          camera
            ? `End the shot here and go to camera ${camera.letter}`
            : "End the shot here and begin another on the same camera"
        }
        hint="X"
        disabled={!scene?.shots.length}
        onClick={() => cutHere(camera?.id ?? null)}
      >
        <Scissors size={14} /> Cut here{camera && <Letter letter={camera.letter} size={18} />}
      </Button>
      <Button
        tip={
          camera
            ? "Put this camera on the assembly as a shot: over the loop, else from the playhead on"
            : "Put a slate on the assembly: a shot with a name and a length, before there is a camera"
        }
        onClick={() => addShot(camera?.id ?? null)}
      >
        {camera ? "Add shot" : "Add slate"}
        {camera && <Letter letter={camera.letter} size={18} />}
      </Button>
    </div>
  );
}
