import type { Take } from "../api/types";
import { useView } from "../store/view";
import { Button } from "../ui/button";
import { act, bytes, span, underWay } from "./asking";
import { drawHere, stopHere, useInTab } from "./in-tab";

const STATES = {
  waiting: "waiting its turn",
  drawing: "drawing",
  packing: "packing",
  done: "done",
  lacking: "some frames are missing",
  cancelled: "cancelled",
  failed: "not packed",
};
const OF = { cut: "the cut", shots: "shots", camera: "a camera" };
const FILES = {
  movie: "Movie",
  pictures: "Pictures",
  otio: "Timeline",
  manifest: "Manifest",
  sound: "Sound",
  tone: "Sound with a tone",
  sounds: "Sound files",
};

/** One render: what of, how far, its newest frame, and what can be done about it. */
export function Job({ take, canDraw, onChange }: { take: Take; canDraw: boolean; onChange: () => void }) {
  const here = useInTab((s) => s.take === take.id);
  const going = underWay(take);
  const packing = take.state === "packing";
  const [count, of] = packing ? [take.packed, take.to_pack] : [take.done, take.frames];
  const { render } = take;
  const doIt = async (what: "cancel" | "again") => {
    if (here) stopHere();
    await act(take.id, what);
    onChange();
  };
  return (
    <article className="flex flex-col gap-1.5 border-b border-line px-3 py-2 text-sm" data-take={take.id}>
      <div className="flex gap-2">
        <div
          className="flex w-24 shrink-0 items-center justify-center bg-mat"
          style={{ aspectRatio: take.wide / take.high }}
        >
          {take.newest && (
            <img
              src={`/api/pictures/${take.newest}.jpg`}
              alt="The newest frame"
              className="h-full w-full object-contain"
            />
          )}
        </div>
        <div className="min-w-0 flex-1">
          <p className="truncate font-semibold">
            Take {take.number} <span className="font-normal text-faint">of {take.scene_name}</span>
          </p>
          <p className="text-xs text-faint">
            {OF[render.of]} · {take.wide} × {take.high} · {render.quality}
          </p>
          <p className={`text-xs ${take.state === "failed" || take.state === "lacking" ? "text-brick" : ""}`}>
            {STATES[take.state]}
            {going && ` · ${count} of ${of}`}
            {take.state === "drawing" && take.seconds_left !== null && ` · ${span(take.seconds_left)} left`}
            {take.state === "cancelled" && ` at ${take.done} of ${take.frames}`}
          </p>
        </div>
      </div>
      {going && (
        <div
          role="progressbar"
          aria-label={`Take ${take.number}`}
          aria-valuenow={count}
          aria-valuemax={of}
          className="h-1.5 w-full overflow-hidden rounded-sm bg-well"
        >
          <div className="h-full bg-slate" style={{ width: `${(100 * count) / Math.max(of, 1)}%` }} />
        </div>
      )}
      {take.reused > 0 && (
        <p className="text-xs text-faint">
          {take.reused} of {take.frames} frames are unchanged
        </p>
      )}
      {take.note && <p className="italic">{take.note}</p>}
      {take.said.map((one) => (
        <p key={one} className="text-xs text-faint">
          {one}
        </p>
      ))}
      {take.reason && (
        <p role="alert" className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          {take.reason}
        </p>
      )}
      {take.failed > 0 && (
        <p className="text-xs text-brick">
          {take.failed} frames could not be drawn; open the take to see which.
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        {going && <Button onClick={() => doIt("cancel")}>Cancel</Button>}
        {going && take.reason && <Button onClick={() => doIt("again")}>Carry on</Button>}
        {going && !packing && !here && (!canDraw || take.reason) && (
          <Button tip="Slower, and this tab must stay in front" onClick={() => void drawHere(take, onChange)}>
            Draw in this tab
          </Button>
        )}
        {here && <Button onClick={stopHere}>Stop drawing here</Button>}
        {take.state === "cancelled" && <Button onClick={() => doIt("again")}>Carry on</Button>}
        {(take.state === "failed" || take.state === "lacking") && (
          <Button tone="main" onClick={() => doIt("again")}>
            Try again
          </Button>
        )}
        {take.done > 0 && (
          <Button
            onClick={() => useView.setState({ asking: { what: "takes", take: take.id, scene: take.scene } })}
          >
            Open
          </Button>
        )}
        {take.files.map((file) => (
          <a
            key={file.kind}
            href={`/api/takes/${take.id}/files/${file.kind}`}
            download
            title={`${file.name}, ${bytes(file.bytes)}`}
            className="inline-flex h-7 items-center rounded-[3px] border border-slate px-2 text-slate"
          >
            {FILES[file.kind]} <span className="ml-1 text-xs text-faint">{bytes(file.bytes)}</span>
          </a>
        ))}
      </div>
    </article>
  );
}
