import { useQuery } from "@tanstack/react-query";
import { Crosshair, Trash2 } from "lucide-react";
import { glassAt } from "../../api/queries";
import type { Camera, CameraColumn } from "../../api/types";
import { useDocument } from "../../store/document";
import { rate, useMoment } from "../../store/moment";
import { cameraColumns, samplesOf } from "../../store/samples";
import { endTry, send, tryOut } from "../../store/sending";
import { complain, scrubStage, useView } from "../../store/view";
import { focusInForce, focusName, metres } from "../../store/words";
import { Button } from "../../ui/button";
import { NumberField } from "../../ui/number-field";
import { useSettled } from "../../ui/settled";
import { pickFocus } from "../../verbs/glass";
import { ChannelKeys, KeyDiamond } from "../channel-keys";
import { Section } from "../section";
import { StopField } from "./exposure-section";

/** What is sharp: on what the focus is, how deep sharpness goes, and the racks. */
export function FocusSection({ camera, row }: { camera: Camera; row: Float32Array | null }) {
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  const picking = useView((s) => s.picking);
  if (!scene || !row) return null;
  const at = cameraColumns();
  const of = (name: CameraColumn) => row[at[name]];
  const on = focusInForce(camera, stage);
  const [near, far] = [of("sharp_near_per_m"), of("sharp_far_per_m")];
  const near_m = samplesOf(camera.id)?.facts.too_near as number[] | undefined;
  const confusion = samplesOf(camera.id)?.facts.confusion_mm as number | undefined;
  const keys = camera.focus.distance.keys;
  const pulled = on.kind === "pulled" && keys.length > 0;
  // Between keys a drag would set one: that is for a typed value.
  const free = !pulled || keys.some((k) => k.frame === stage);
  const distance = of("focus_per_m") < 1e-4 ? Number.POSITIVE_INFINITY : 1 / of("focus_per_m");
  const setTo = (m: number) =>
    pulled
      ? ({ kind: "focus.key", camera: camera.id, frame: stage, metres: m } as const)
      : ({
          kind: "focus.set",
          camera: camera.id,
          frame: stage,
          on: { kind: "distance", metres: Number.isFinite(m) ? m : null },
        } as const);
  return (
    <Section title="Stop and focus">
      <div className="flex items-center gap-1">
        <p className="min-w-0 flex-1 truncate text-sm" data-testid="focused-on">
          On <b>{focusName(scene, on)}</b>
        </p>
        <Button
          tip="Click what to focus on, in the picture or on the plan"
          hint="G"
          on={picking === "focus"}
          disabled={camera.locked}
          onClick={() => pickFocus("focus")}
        >
          <Crosshair size={14} /> Focus
        </Button>
        <Button
          tip="Click what to rack to; it is reached at this frame"
          hint="Shift G"
          on={picking === "rack"}
          disabled={camera.locked}
          onClick={() => pickFocus("rack")}
        >
          Rack
        </Button>
      </div>
      <StopField camera={camera} row={row} />
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <NumberField
            label="Distance"
            unit="m"
            endless={!pulled}
            value={distance}
            digits={2}
            step={0.02}
            disabled={camera.locked}
            onTry={free ? (m) => m > 0 && tryOut(setTo(m), stage) : undefined}
            onSet={(m, seen) => {
              endTry();
              return send(setTo(m), seen);
            }}
          />
        </div>
        <KeyDiamond
          thing={camera.id}
          channel="focus.distance"
          what="focus distance"
          keys={keys}
          locked={camera.locked}
          onKey={() => send({ kind: "focus.key", camera: camera.id, frame: stage })}
        />
      </div>
      <ChannelKeys
        thing={camera.id}
        channel="focus.distance"
        what="focus distance"
        keys={keys}
        locked={camera.locked}
      />
      {keys.length > 0 && !pulled && (
        <p className="text-xs text-faint">
          The curve does not count here: the focus is on {focusName(scene, on)}.
        </p>
      )}
      <p className="text-xs leading-snug text-faint" data-testid="depth">
        Sharp from <b className="text-ink">{metres(near)}</b> to <b className="text-ink">{metres(far)}</b>
        {far > 1e-4 && (
          <>
            : <b className="text-ink">{depth(near, far)}</b> deep
          </>
        )}
        . Hyperfocal {metres(1 / of("hyperfocal_m"))}. Circle of confusion {confusion?.toFixed(3)} mm.
      </p>
      {near_m && near_m.length > 0 && (
        <p className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          Focus is asked nearer than the lens goes{" "}
          {near_m[0] === near_m[1] ? `at ${near_m[0]}` : `between ${near_m[0]} and ${near_m[1]}`}.
        </p>
      )}
      <InWords camera={camera} />
      <Marks camera={camera} />
    </Section>
  );
}

const depth = (near: number, far: number) => {
  const m = 1 / far - 1 / near;
  return m < 1 ? `${Math.round(m * 100)} cm` : `${m.toFixed(2)} m`;
};

/** Which figures are sharp at this frame; asked for when the scene stands still. */
function InWords({ camera }: { camera: Camera }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const now = useMoment((s) => s.stage);
  const stage = useSettled(now);
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({ ...glassAt(id, camera.id, stage, revision), enabled: !playing });
  // What was true of another frame is not said of this one.
  if (!data || playing || stage !== now) return null;
  return (
    <p className="text-sm" data-testid="sharp-words">
      {data.words}
    </p>
  );
}

function Marks({ camera }: { camera: Camera }) {
  const scene = useDocument((s) => s.shown);
  if (camera.focus.marks.length === 0 || !scene) return null;
  const change = (frame: number, what: object, seen?: number) =>
    send({ kind: "focus.mark", camera: camera.id, frame, ...what }, seen);
  return (
    <div className="flex flex-col gap-1.5" data-testid="marks">
      <p className="text-xs text-faint">
        First on {focusName(scene, camera.focus.on)}. Racks run evenly as the eye sees them, in 1/distance.
      </p>
      {camera.focus.marks.map((mark) => (
        <div key={mark.frame} className="rounded-[3px] border border-line bg-sheet px-1.5 py-1">
          <div className="flex items-center gap-1 text-sm">
            <button
              type="button"
              className="font-semibold text-ochre underline"
              onClick={() => scrubStage(mark.frame)}
            >
              {mark.frame}
            </button>
            <span className="min-w-0 flex-1 truncate">on {focusName(scene, mark.on)}</span>
            <button
              type="button"
              aria-label={`Delete the focus mark at ${mark.frame}`}
              title="Delete this rack"
              disabled={camera.locked}
              onClick={async () =>
                complain(await send({ kind: "focus.unmark", camera: camera.id, frame: mark.frame }))
              }
            >
              <Trash2 size={13} />
            </button>
          </div>
          <div className="mt-1 grid grid-cols-2 gap-x-2">
            <NumberField
              label="At"
              compact
              value={mark.frame}
              digits={0}
              step={1}
              disabled={camera.locked}
              onSet={(to, seen) => change(mark.frame, { to: Math.round(to) }, seen)}
            />
            <NumberField
              label="Over"
              counts
              unit="f"
              perSecond={rate()}
              value={mark.over}
              digits={0}
              step={1}
              disabled={camera.locked}
              onSet={(over, seen) => change(mark.frame, { over: Math.round(over) }, seen)}
            />
          </div>
        </div>
      ))}
    </div>
  );
}
