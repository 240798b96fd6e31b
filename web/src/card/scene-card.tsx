import { Eye, EyeOff, Lock, Plus } from "lucide-react";
import { catalogue, rateName } from "../api/catalogue";
import { ask, client } from "../api/client";
import type { Camera, Command, Delivery, Does, Scene } from "../api/types";
import { rate, useMoment } from "../store/moment";
import { standingPieces } from "../store/parts";
import { endTry, send, tryOut } from "../store/sending";
import { complain, lookThrough, select, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Rows } from "../ui/long-list";
import { Menu, MenuItem } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { showCameras } from "../verbs/cameras";
import { putMover } from "../verbs/staging";
import { Parts } from "./parts";
import { Reference } from "./reference-card";
import { Section } from "./section";

const line = "flex min-w-0 items-center gap-2 rounded-[3px] px-1 py-0.5 text-left text-sm hover:bg-well";

/** The scene itself, and everything on its stage by name. */
export function SceneCard({ scene }: { scene: Scene }) {
  const set = (what: Partial<Omit<Extract<Command, { kind: "scene.set" }>, "kind">>, at?: number) =>
    send({ kind: "scene.set", ...what }, at);
  const groups = Object.entries(Object.groupBy(standingPieces(scene.pieces), (p) => p.group || ""));
  return (
    <div data-testid="scene-card">
      <Section title="Scene">
        <TextField names label="Name" value={scene.name} onSet={(name, at) => set({ name }, at)} />
        <Choice
          label="Frames a second"
          value={scene.rate}
          options={catalogue.rates.map((r) => ({ value: r, label: rateName(r) }))}
          onSet={async (rate) => complain(await set({ rate }))}
        />
        <NumberField
          label="First frame"
          value={scene.frames.first}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={(first, at) => set({ frames: { ...scene.frames, first: Math.round(first) } }, at)}
        />
        <NumberField
          label="Last frame"
          value={scene.frames.last}
          digits={0}
          step={1}
          unit="f"
          perSecond={rate()}
          onSet={(last, at) => set({ frames: { ...scene.frames, last: Math.round(last) } }, at)}
        />
        <TextField
          label="The cut starts at"
          value={scene.cut_start}
          onSet={(cut_start, at) => set({ cut_start }, at)}
        />
      </Section>
      <Section
        title="Lens kit"
        side={<Button onClick={() => useView.setState({ asking: { what: "kit" } })}>Change</Button>}
      >
        <p className="text-sm">
          {scene.lenses.map((lens) => lens.name).join(" · ") || (
            <span className="text-faint">Empty: any focal length will do.</span>
          )}
        </p>
      </Section>
      <FirstLens scene={scene} />
      <Light scene={scene} />
      <Reference scene={scene} />
      <Parts />
      <Section title="Delivery aspect">
        <div className="flex flex-wrap gap-1">
          {catalogue.deliveries.map((d) => (
            <button
              type="button"
              key={d.label}
              aria-pressed={d.label === scene.delivery.label}
              className={`rounded-[3px] border px-2 py-0.5 text-sm ${d.label === scene.delivery.label ? "border-slate bg-slate-wash font-semibold" : "border-line bg-sheet"}`}
              onClick={async () => complain(await set({ delivery: d }))}
            >
              {d.label}
            </button>
          ))}
        </div>
        <TextField
          label="Or type one, as 2:1 or 1.66"
          value={scene.delivery.label}
          onSet={async (text, at) => {
            const { data, problem } = await ask(client.GET("/api/delivery", { params: { query: { text } } }));
            return problem ?? set({ delivery: data as Delivery }, at);
          }}
        />
      </Section>
      <Cameras scene={scene} />
      <Section
        title={`Figures and movers (${scene.figures.length + scene.movers.length})`}
        side={
          <Menu
            trigger={
              <Button>
                <Plus size={13} /> Mover
              </Button>
            }
          >
            {Object.entries(catalogue.mover_shapes).map(([shape, label]) => (
              <MenuItem key={shape} onSelect={() => putMover(shape as Does<"mover.add">["shape"])}>
                {label}
              </MenuItem>
            ))}
          </Menu>
        }
      >
        <Rows items={scene.figures} keyOf={(f) => f.id} height={30}>
          {(f) => (
            <button type="button" className={line} onClick={() => select("figure", [f.id])}>
              <span className="h-3.5 w-3.5 rounded-full" style={{ background: f.look.coat }} />
              <span className="flex-1 truncate">{f.name}</span>
              <span className="text-xs text-faint">{f.stature.toFixed(2)} m</span>
            </button>
          )}
        </Rows>
        <Rows items={scene.movers} keyOf={(m) => m.id} height={30}>
          {(m) => (
            <button type="button" className={line} onClick={() => select("mover", [m.id])}>
              <span className="h-3.5 w-3.5 rounded-[3px]" style={{ background: m.colour }} />
              <span className="flex-1 truncate">{m.name}</span>
            </button>
          )}
        </Rows>
      </Section>
      <Section title={`Set (${standingPieces(scene.pieces).length} pieces)`}>
        <Rows items={groups} keyOf={([name]) => name} height={30}>
          {([name, pieces]) => (
            <button
              type="button"
              className={line}
              onClick={() =>
                select(
                  "piece",
                  (pieces ?? []).map((p) => p.id),
                )
              }
            >
              <span className="flex-1 truncate">{name || "Not in a group"}</span>
              <span className="text-xs text-faint">{pieces?.length}</span>
            </button>
          )}
        </Rows>
      </Section>
    </div>
  );
}

/** Every camera, by group; a group is shown or hidden at once. */
function Cameras({ scene }: { scene: Scene }) {
  const grouped = Object.entries(Object.groupBy(scene.cameras, (c) => c.group)) as [string, Camera[]][];
  const rows = grouped.flatMap(([group, cameras]): (Camera | Row)[] =>
    group || grouped.length > 1 ? [{ group, cameras }, ...cameras] : cameras,
  );
  return (
    <Section
      title={`Cameras (${scene.cameras.length})`}
      side={scene.cameras.length > 1 && <Eyes of="every camera" cameras={scene.cameras} />}
    >
      {scene.cameras.length === 0 && (
        <p className="text-sm text-faint">None. Find a view with the rover and press N.</p>
      )}
      <Rows items={rows} keyOf={(row) => ("id" in row ? row.id : `group ${row.group}`)} height={30}>
        {(row) =>
          "id" in row ? (
            <button
              type="button"
              className={line}
              onClick={() => select("camera", [row.id])}
              onDoubleClick={() => lookThrough({ camera: row.id })}
            >
              <Letter letter={row.letter} />
              <span className="min-w-0 flex-1 truncate">{row.name}</span>
              <span className="text-xs text-faint">{row.focal.rest} mm</span>
              {row.locked && <Lock size={13} aria-label="Locked" />}
              {row.hidden ? (
                <EyeOff size={13} aria-label="Hidden" />
              ) : (
                <Eye size={13} className="opacity-30" aria-hidden="true" />
              )}
            </button>
          ) : (
            <div className="flex items-center gap-2 px-1 py-0.5 text-sm text-faint">
              <span className="min-w-0 flex-1 truncate">{row.group || "Not in a group"}</span>
              <Eyes of={row.group || "cameras not in a group"} cameras={row.cameras} />
            </div>
          )
        }
      </Rows>
    </Section>
  );
}

interface Row {
  group: string;
  cameras: Camera[];
}

/** Hides several cameras at once, or shows them where none is shown. */
function Eyes({ of, cameras }: { of: string; cameras: Camera[] }) {
  const shown = cameras.some((c) => !c.hidden);
  return (
    <Button
      aria-label={`${shown ? "Hide" : "Show"} ${of}`}
      tip={`${shown ? "Hide" : "Show"} ${of} on plan and stage`}
      on={!shown}
      onClick={() =>
        showCameras(
          !shown,
          cameras.map((c) => c.id),
        )
      }
    >
      {shown ? <Eye size={13} /> : <EyeOff size={13} />}
    </Button>
  );
}

/** Film back and lens that every new camera gets. */
function FirstLens({ scene }: { scene: Scene }) {
  const backs = catalogue.film_backs;
  const set = (what: Omit<Does<"scene.set">, "kind">, at?: number) =>
    send({ kind: "scene.set", ...what }, at);
  const { on, focal_mm } = scene.first_lens;
  const back = backs.find(
    (b) => b.back.width_mm === on.back.width_mm && b.back.height_mm === on.back.height_mm,
  );
  const primes = scene.lenses.filter((l) => l.shortest_mm === l.longest_mm).map((l) => l.shortest_mm);
  return (
    <Section title="New cameras get">
      <Choice
        label="Film back"
        value={back?.back.name ?? "custom"}
        options={[
          ...backs.map((b) => ({ value: b.back.name, label: `${b.back.name} (${b.standard})` })),
          ...(back ? [] : [{ value: "custom", label: `${on.back.width_mm} × ${on.back.height_mm} mm` }]),
        ]}
        onSet={async (name) => {
          const next = backs.find((b) => b.back.name === name);
          if (next) complain(await set({ first_back: next.back }));
        }}
      />
      <Choice
        label="Lens"
        value={String(focal_mm)}
        options={[...new Set([...primes, focal_mm])]
          .sort((a, b) => a - b)
          .map((mm) => ({ value: String(mm), label: `${mm} mm` }))}
        onSet={async (mm) => complain(await set({ first_focal: Number(mm) }))}
      />
    </Section>
  );
}

const LIGHTS = [
  ["sun_bearing", "Sun's bearing", "°", 1, 0],
  ["sun_height", "Sun's height", "°", 1, 0],
  ["fill", "Fill in the shade", "", 0.02, 2],
  ["rim", "Rim on edges", "", 0.02, 2],
  ["haze_m", "Haze hides half in", "m", 1, 0],
  ["light_ev", "The stage is lit for", "EV", 0.1, 1],
] as const;

/** Sun, fill and rim; the sun can be turned on the plan too. */
function Light({ scene }: { scene: Scene }) {
  const stage = useMoment((s) => s.stage);
  return (
    <Section title="Light">
      {LIGHTS.map(([name, label, unit, step, digits]) => (
        <NumberField
          key={name}
          label={label}
          value={scene.surround[name]}
          unit={unit}
          step={step}
          digits={digits}
          onTry={(value) => tryOut({ kind: "scene.set", [name]: value }, stage)}
          onSet={(value, at) => {
            endTry();
            return send({ kind: "scene.set", [name]: value }, at);
          }}
        />
      ))}
    </Section>
  );
}
