import { Scissors } from "lucide-react";
import { catalogue } from "../api/catalogue";
import type { Does, Mover, Scene } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { heldOf, moverFacts, partsOf } from "../store/parts";
import { moverColumns, rowOf, samplesOf, useVersion } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { cameraSeen, complain, scrubStage, select } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { ColourField } from "../ui/colour-field";
import { Menu, MenuItem } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { Tick } from "../ui/tick";
import { fieldOf } from "./channel-field";
import { KeyedNumber } from "./keyed-number";
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
    <Section title="Parts, hinge and light">
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
      <Lit mover={mover} stage={stage} />
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
      <PartNumber
        mover={mover}
        channel="hinge.open"
        value={openAt(mover, stage)}
        keys={hinge.open.keys}
        stage={stage}
      />
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
function openAt(mover: Mover, stage: number): number {
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

const SPREADS = [
  { value: "none", label: "no light" },
  { value: "round", label: "all round" },
  { value: "cone", label: "in a cone" },
] as const;

/** What makes it a lamp. */
function Lit({ mover, stage }: { mover: Mover; stage: number }) {
  const light = mover.light;
  const set = (what: Partial<Does<"mover.light">>, at?: number) =>
    send({ kind: "mover.light", mover: mover.id, spread: light?.spread ?? "none", ...what }, at);
  const row = rowOf(mover.id, stage);
  const of = moverColumns();
  return (
    <>
      <Choice
        label="Lights"
        value={light?.spread ?? "none"}
        options={SPREADS}
        onSet={async (spread) => complain(await set({ spread }))}
      />
      {light && (
        <>
          <PartNumber
            mover={mover}
            channel="light.stops"
            value={row?.[of.stops] ?? light.stops.rest}
            keys={light.stops.keys}
            stage={stage}
          />
          {light.spread === "cone" && (
            <PartNumber
              mover={mover}
              channel="light.cone_deg"
              value={row?.[of.cone_deg] ?? light.cone_deg.rest}
              keys={light.cone_deg.keys}
              stage={stage}
            />
          )}
          <NumberField
            label="Reach"
            value={light.reach_m}
            unit="m"
            step={0.1}
            onTry={(reach_m) =>
              tryOut({ kind: "mover.light", mover: mover.id, spread: light.spread, reach_m }, stage)
            }
            onSet={(reach_m, at) => {
              endTry();
              return set({ reach_m }, at);
            }}
          />
          {light.spread === "cone" && (
            <NumberField
              label="Soft edge"
              value={light.soft}
              step={0.05}
              onSet={(soft, at) => set({ soft }, at)}
            />
          )}
          <ColourField
            label="Colour of the light"
            value={light.colour}
            onSet={async (colour) => complain(await set({ colour }))}
          />
          <Rim mover={mover} stage={stage} />
          <Tick on={light.casts} onSet={async (casts) => complain(await set({ casts }))}>
            Casts shadows (two lamps can)
          </Tick>
        </>
      )}
    </>
  );
}

/** Stands a lamp behind whom the camera sees, to catch one edge of the head. */
function Rim({ mover, stage }: { mover: Mover; stage: number }) {
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const camera = cameraSeen();
  if (!camera || figures.length === 0)
    return <p className="text-xs text-faint">Look through a camera to set it as a rim light.</p>;
  return (
    <Menu
      trigger={<Button tip="Stand it where its light catches one edge, as this camera sees it">Rim…</Button>}
    >
      {figures.flatMap((figure) =>
        (["left", "right", "top"] as const).map((edge) => (
          <MenuItem
            key={figure.id + edge}
            onSelect={async () =>
              complain(
                await send({
                  kind: "lamp.rim",
                  lamp: mover.id,
                  camera,
                  on: { kind: "figure", figure: figure.id, joint: "head" },
                  edge,
                  frame: stage,
                }),
              )
            }
          >
            {`${figure.name}'s ${edge} edge`}
          </MenuItem>
        )),
      )}
    </Menu>
  );
}

/** A number of its hinge or light. */
function PartNumber({
  mover,
  channel,
  ...rest
}: {
  mover: Mover;
  channel: string;
  value: number;
  keys: { frame: number }[];
  stage: number;
}) {
  const [part, name] = channel.split(".");
  const kind = part === "hinge" ? (mover.hinge?.kind ?? "hinge") : part;
  return (
    <KeyedNumber
      thing={mover.id}
      channel={channel}
      field={fieldOf(catalogue.channels[kind], name)}
      {...rest}
    />
  );
}
