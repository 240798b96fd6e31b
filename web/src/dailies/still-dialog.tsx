import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { openDrawer } from "../picture/drawer";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { cameraSeen, useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Dialog } from "../ui/dialog";
import { NumberField } from "../ui/number-field";
import { OneOf } from "../ui/one-of";
import { Tick } from "../ui/tick";
import { HEIGHTS, PICTURES, wouldBe } from "./asking";
import { withSlate } from "./slate";

const HOW = { quick: { quality: "quick" }, fine: { quality: "fine", drawings: 64 } } as const;

/** The picture that is seen, as a file: of any size, quick or through the whole lens, with a slate or without. */
export function StillDialog({ onClose }: { onClose: () => void }) {
  const scene = useDocument((s) => s.scene);
  const id = useDocument((s) => s.id);
  const stage = useMoment((s) => s.stage);
  const cut = useMoment((s) => s.cut);
  const inCut = useView((s) => s.through) === "cut";
  const seen = cameraSeen();
  const camera = itemOf(scene, "cameras", seen);
  const [high, setHigh] = useState(1080);
  const [quality, setQuality] = useState<"quick" | "fine">("fine");
  const [slate, setSlate] = useState(true);
  const [done, setDone] = useState<{ count: number; of: number } | null>(null);
  const [made, setMade] = useState<{ url: string; name: string } | null>(null);
  const [problem, setProblem] = useState("");
  const revision = useDocument((s) => s.revision);
  // Any frame will do to ask how large it is.
  const first = scene?.frames.first ?? 0;
  const { data, isPlaceholderData } = useQuery({
    ...wouldBe(id ?? 0, revision, {
      ...PICTURES,
      of: "camera",
      camera: seen,
      frames: { first, last: first },
      high,
    }),
    enabled: id !== null && seen !== null,
  });
  const plan = data?.problem ? null : data?.plan;
  const wanted = useRef<AbortController | null>(null);
  const stop = () => {
    wanted.current?.abort();
    setDone(null);
  };
  // What is under way ends with the dialog.
  useEffect(() => () => wanted.current?.abort(), []);
  useEffect(() => () => (made ? URL.revokeObjectURL(made.url) : undefined), [made]);
  if (!scene || id === null) return null;
  if (!camera)
    return (
      <Dialog title="This picture" onClose={onClose}>
        <p className="text-sm">
          The rover's view isn't part of the film. Look through a camera, or watch the cut.
        </p>
      </Dialog>
    );
  // How large it is, the server says; it is asked again for each height.
  const size = plan && !isPlaceholderData ? ([plan.wide, plan.high] as const) : null;
  const draw = async () => {
    if (!size) return;
    const mine = new AbortController();
    wanted.current = mine;
    setProblem("");
    setMade(null);
    setDone({ count: 0, of: 0 });
    try {
      const one = await openDrawer(id, ...size, mine.signal);
      let picture = await one.draw(camera.id, stage, HOW[quality], (count, of) => setDone({ count, of }));
      if (mine.signal.aborted) return;
      if (slate)
        picture = await withSlate(id, picture, { camera: camera.id, stage, ...(inCut ? { cut } : {}) });
      stop();
      setMade({
        url: URL.createObjectURL(picture),
        name: `${scene.name}_${camera.letter}.${stage}.png`.replaceAll(" ", "_"),
      });
    } catch (error) {
      if (mine.signal.aborted) return;
      stop();
      setProblem(error instanceof Error ? error.message : "The picture could not be drawn.");
    }
  };
  return (
    <Dialog
      title={`Camera ${camera.letter} at ${stage}, as a picture`}
      onClose={onClose}
      wide={made !== null}
    >
      <div className="flex flex-col gap-2" data-testid="still">
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-44">
            <NumberField
              label="Height"
              unit="px"
              digits={0}
              step={2}
              value={high}
              disabled={done !== null}
              onSet={async (to) => {
                setHigh(to);
                return null;
              }}
            />
          </div>
          <OneOf
            label="Usual heights"
            value={high}
            options={HEIGHTS}
            disabled={done !== null}
            onSet={setHigh}
          />
        </div>
        {data?.problem ? (
          <p role="alert" className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-sm text-brick">
            {data.problem.detail}
          </p>
        ) : (
          <p className="text-xs text-faint">
            {size ? `${size[0]} × ${size[1]} pixels, ${scene.delivery.label}` : "…"}
          </p>
        )}
        <Choice
          label="Quality"
          value={quality}
          options={[
            { value: "quick", label: "quick, one drawing" },
            { value: "fine", label: "fine, lens and shutter" },
          ]}
          onSet={async (next) => setQuality(next)}
        />
        <Tick on={slate} onSet={setSlate}>
          with a slate: scene, shot, camera, lens, focus and the clocks
        </Tick>
        {problem && (
          <p role="alert" className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-sm text-brick">
            {problem} Try again, or choose a smaller size.
          </p>
        )}
        <div className="flex items-center justify-end gap-2">
          {done && (
            <>
              <progress
                className="flex-1"
                value={done.count}
                max={done.of || undefined}
                aria-label="Drawings done"
              />
              <span className="text-sm text-faint">
                {done.of ? `${done.count} of ${done.of}` : "setting up the stage…"}
              </span>
              <Button onClick={stop}>Cancel</Button>
            </>
          )}
          {!done && (
            <Button tone={made ? "plain" : "main"} disabled={!size} onClick={draw}>
              {made ? "Draw it again" : "Draw it"}
            </Button>
          )}
          {made && (
            <a
              href={made.url}
              download={made.name}
              className="inline-flex h-7 items-center rounded-[3px] border border-slate bg-slate px-2 text-sm text-sheet"
            >
              Save {made.name}
            </a>
          )}
        </div>
        {made && (
          <img
            src={made.url}
            alt={`Camera ${camera.letter} at ${stage}`}
            className="max-h-[52vh] w-full border border-line object-contain"
          />
        )}
      </div>
    </Dialog>
  );
}
