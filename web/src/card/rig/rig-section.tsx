import { Plus } from "lucide-react";
import { useState } from "react";
import type { Camera } from "../../api/types";
import { useDocument } from "../../store/document";
import { useMoment } from "../../store/moment";
import { samplesOf } from "../../store/samples";
import { scrubStage, useView } from "../../store/view";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { Menu, MenuItem } from "../../ui/menu";
import { keep } from "../../verbs/bringing";
import { newId } from "../../verbs/new-id";
import { flyAlong } from "../../verbs/perches";
import {
  addLayer,
  giveRig,
  POINTED,
  pickFor,
  rigToKeys,
  startsFor,
  subjectsOf,
  swapSubject,
} from "../../verbs/rig";
import { Section } from "../section";
import { LayerNumbers } from "./layer-numbers";
import { Turntable } from "./turntable";

/** What carries a camera, as one sentence; each part of it opens its few numbers. */
export function RigSection({ camera }: { camera: Camera }) {
  const [open, setOpen] = useState<string | null>(null);
  const [table, setTable] = useState(false);
  const perches = useDocument((s) => s.scene?.perches) ?? [];
  const loop = useMoment((s) => s.loop);
  const range = loop?.clock === "stage" ? { first: loop.first, last: loop.last } : null;
  const facts = samplesOf(camera.id)?.facts;
  const parts = new Map((facts?.rig as [string, string][] | undefined) ?? []);
  const notes = (facts?.notes as [number, string][] | undefined) ?? [];
  return (
    <Section
      title="Layers"
      side={
        <Menu
          trigger={
            <Button disabled={camera.locked} aria-label="Add a layer">
              <Plus size={13} /> Layer
            </Button>
          }
        >
          {POINTED.map(({ pick, does, line }) => (
            <MenuItem key={pick} note={`${line}, here or on the plan`} onSelect={() => pickFor(pick)}>
              {does}
            </MenuItem>
          ))}
          <MenuItem note="Click its points on the plan" onSelect={() => useView.setState({ tool: "rail" })}>
            Run on a rail…
          </MenuItem>
          {perches.length > 1 && (
            <MenuItem
              note={`From ${perches[0].name} on, two seconds a leg; change them on its card`}
              onSelect={() =>
                flyAlong(
                  camera.id,
                  perches.map((p) => p.id),
                )
              }
            >
              Fly along the perches
            </MenuItem>
          )}
          <MenuItem note="Once round something, to look at it from all sides" onSelect={() => setTable(true)}>
            Turntable…
          </MenuItem>
          <MenuItem
            note="An operator's small movements"
            onSelect={() => addLayer(camera.id, { kind: "breath", id: newId("lay") })}
          >
            Breathe
          </MenuItem>
          <MenuItem
            note="No roll, whatever it rides on"
            onSelect={() => addLayer(camera.id, { kind: "level", id: newId("lay") })}
          >
            Level
          </MenuItem>
        </Menu>
      }
    >
      {table && <Turntable onDone={() => setTable(false)} />}
      {camera.layers.length === 0 ? (
        <Starts camera={camera} />
      ) : (
        <ol className="flex flex-col gap-1" data-testid="rig">
          {camera.layers.map((layer) => (
            <li key={layer.id}>
              <button
                type="button"
                aria-expanded={open === layer.id}
                className={`w-full rounded-[3px] border px-2 py-1 text-left text-sm ${open === layer.id ? "border-slate bg-slate-wash" : "border-line bg-sheet hover:bg-well"} ${layer.off ? "text-faint line-through" : ""}`}
                onClick={() => setOpen(open === layer.id ? null : layer.id)}
              >
                {capital(parts.get(layer.id) ?? layer.kind)}
              </button>
              {open === layer.id && <LayerNumbers camera={camera} layer={layer} />}
            </li>
          ))}
        </ol>
      )}
      {notes.map(([frame, text]) => (
        <p key={`${frame}${text}`} className="text-xs text-brick">
          <button type="button" className="font-semibold underline" onClick={() => scrubStage(frame)}>
            {frame}
          </button>
          : {text}
        </p>
      ))}
      {camera.layers.length > 0 && <Reuse camera={camera} />}
      {camera.layers.length > 0 && (
        <div className="flex flex-wrap gap-1">
          <Button
            tip="Converts the layers to keys"
            disabled={camera.locked}
            onClick={() => rigToKeys(camera.id)}
          >
            Convert to keys
          </Button>
          {range && (
            <Button
              tip="Only within the loop; before and after it the layers go on"
              disabled={camera.locked}
              onClick={() => rigToKeys(camera.id, range)}
            >
              Only {range.first}–{range.last}
            </Button>
          )}
        </div>
      )}
    </Section>
  );
}

/** By what the shot is: a rig to begin from, framed for the figures there are. */
function Starts({ camera }: { camera: Camera }) {
  const scene = useDocument((s) => s.scene);
  const on = camera.focus.on;
  const first = on.kind === "figure" ? on.figure : "";
  const figures = [...(scene?.figures ?? [])].sort((a, b) => Number(b.id === first) - Number(a.id === first));
  const starts = startsFor(figures);
  if (starts.length === 0)
    return (
      <p className="text-xs text-faint">Moved by its keys alone. Add a layer to watch, follow or ride.</p>
    );
  return (
    <Choice
      label="Start as"
      value=""
      disabled={camera.locked}
      options={[
        { value: "", label: "by its keys" },
        ...starts.map((one, i) => ({ value: String(i), label: one.label })),
      ]}
      onSet={(i) => {
        const one = starts[Number(i)];
        if (i && one) void one.start(camera.id);
      }}
    />
  );
}

/** The same rig with another subject, or on another camera. */
function Reuse({ camera }: { camera: Camera }) {
  const scene = useDocument((s) => s.scene);
  const others = scene?.cameras.filter((c) => c.id !== camera.id && !c.locked) ?? [];
  const figures = scene?.figures ?? [];
  return (
    <>
      {subjectsOf(camera).map((was, i, all) => (
        <Choice
          key={was}
          label={all.length > 1 ? `Subject ${i + 1}` : "Subject"}
          value={was}
          options={figures.map((f) => ({ value: f.id, label: f.name }))}
          onSet={(now) => swapSubject(camera.id, was, now)}
        />
      ))}
      {others.length > 0 && (
        <Choice
          label="The same rig for"
          value=""
          options={[
            { value: "", label: "another camera" },
            ...others.map((c) => ({ value: c.id, label: `${c.letter} ${c.name}` })),
          ]}
          onSet={(to) => to && giveRig(camera.id, to)}
        />
      )}
      <Button
        tip="For cameras of any scene, about those who are there"
        onClick={() => keep([camera.id], "rig")}
      >
        Keep this rig in the library
      </Button>
    </>
  );
}

const capital = (text: string) => text[0].toUpperCase() + text.slice(1);
