import { Diamond, Scissors } from "lucide-react";
import { catalogue } from "../api/catalogue";
import type { Does, Mover, Scene } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { heldOf, moverFacts, partsOf } from "../store/parts";
import { samplesOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { complain, scrubStage, select } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { fieldOf } from "./channel-field";
import { Section } from "./section";

type How = Does<"mover.hinge">["how"];
type Pivot = NonNullable<Does<"mover.hinge">["pivot"]>;
const EDGES: { value: Pivot; label: string }[] = [
  { value: "middle", label: "the middle" },
  { value: "left", label: "the left edge" },
  { value: "right", label: "the right edge" },
  { value: "front", label: "the front edge" },
  { value: "back", label: "the back edge" },
];
const AXES = [
  { value: "upright", label: "an upright" },
  { value: "across", label: "across" },
  { value: "along", label: "lengthways" },
] as const;
const HOW: { value: How; label: string }[] = [
  { value: "none", label: "no hinge" },
  { value: "hinge", label: "turns" },
  { value: "slide", label: "slides" },
];

/** What a mover is on and made of, and how it opens. */
export function MoverParts({ mover }: { mover: Mover }) {
  const scene = useDocument((s) => s.shown);
  const stage = useMoment((s) => s.stage);
  useVersion(mover.id);
  if (!scene) return null;
  const parts = partsOf(scene, mover.id);
  const others = scene.movers.filter((one) => one.id !== mover.id);
  return (
    <Section title="Parts and hinge">
      {(others.length > 0 || mover.on) && (
        <Choice
          label="Rides on"
          value={mover.on ?? ""}
          options={[
            { value: "", label: "the stage" },
            ...others.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onSet={async (on) =>
            complain(await send({ kind: "mover.ride", ids: [mover.id], on: on || null, frame: stage }))
          }
        />
      )}
      <Hinged mover={mover} stage={stage} />
      {parts.length > 0 && (
        <div className="flex flex-col gap-0.5 text-sm">
          <span className="text-xs text-faint">Made of</span>
          {parts.map((part) => (
            <button
              key={part.id}
              type="button"
              className="truncate rounded-[3px] px-1 text-left hover:bg-well"
              onClick={() => select("piece", [part.id])}
            >
              {part.name}
            </button>
          ))}
          <span>
            <Button
              tip="Its pieces stand on the stage again, where they are now"
              onClick={async () =>
                complain(await send({ kind: "mover.release", mover: mover.id, frame: stage }))
              }
            >
              <Scissors size={13} /> Take apart
            </Button>
          </span>
        </div>
      )}
      <Handled scene={scene} mover={mover} />
    </Section>
  );
}

function Hinged({ mover, stage }: { mover: Mover; stage: number }) {
  const hinge = mover.hinge;
  const hang = async (what: Partial<Does<"mover.hinge">>) =>
    complain(await send({ kind: "mover.hinge", mover: mover.id, how: hinge?.kind ?? "none", ...what }));
  const opens = (open: number, key = false) => ({
    kind: "mover.open" as const,
    mover: mover.id,
    open,
    frame: stage,
    key,
  });
  const how = (
    <Choice
      label="Opens"
      value={hinge?.kind ?? "none"}
      options={HOW}
      onSet={(value) => hang({ how: value })}
    />
  );
  if (!hinge) return how;
  const field = fieldOf(catalogue.channels[hinge.kind], "open");
  const keys = hinge.open.keys;
  const here = keys.some((key) => key.frame === stage);
  return (
    <>
      {how}
      <Choice
        label={hinge.kind === "hinge" ? "About" : "Goes"}
        value={hinge.axis}
        options={AXES}
        onSet={(axis) => hang({ axis })}
      />
      <Choice
        label="Hung at"
        value=""
        options={[{ value: "", label: "as it is" }, ...EDGES]}
        onSet={(pivot) => pivot && hang({ pivot: pivot as Pivot })}
      />
      <NumberField
        {...field}
        value={valueAt(mover, stage)}
        onTry={(v) => tryOut(opens(v), stage)}
        onSet={(v, at) => {
          endTry();
          return send(opens(v), at);
        }}
      />
      <span>
        <Button
          tone={here ? "plain" : "ochre"}
          tip="Set a key on how far it is open at this frame"
          disabled={here}
          onClick={async () => complain(await send(opens(valueAt(mover, stage), true)))}
        >
          <Diamond size={13} fill={here ? "currentColor" : "none"} /> {here ? `Key ${stage}` : "Set key"}
        </Button>
      </span>
      {(["least", "most"] as const).map((end) => (
        <NumberField
          key={end}
          compact
          label={end === "least" ? "From" : "To"}
          value={hinge[end]}
          unit={field.unit}
          step={field.step}
          digits={field.digits}
          onSet={(v, at) => send({ kind: "mover.hinge", mover: mover.id, how: hinge.kind, [end]: v }, at)}
        />
      ))}
    </>
  );
}

/** How far it is open at a frame, degrees or metres. */
function valueAt(mover: Mover, stage: number): number {
  const first = samplesOf(mover.id)?.first ?? stage;
  return moverFacts(mover.id).open?.[stage - first] ?? mover.hinge?.open.rest ?? 0;
}

/** Through whose hands it goes. */
function Handled({ scene, mover }: { scene: Scene; mover: Mover }) {
  const held = heldOf(mover.id);
  if (held.length === 0) return null;
  const named = (id: string) => scene.figures.find((figure) => figure.id === id)?.name ?? "somebody";
  return (
    <ul className="text-sm" data-testid="held-by">
      {held.map(({ frame, by, act, down }) => (
        <li key={act}>
          <button
            type="button"
            className="num font-semibold underline"
            title="Go there"
            onClick={() => scrubStage(frame)}
          >
            {frame}
          </button>{" "}
          {down ? `put down by ${named(by)}` : `held by ${named(by)}`}
        </li>
      ))}
    </ul>
  );
}
