import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Render } from "../api/types";
import { useDocument } from "../store/document";
import { useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Dialog } from "../ui/dialog";
import { NumberField } from "../ui/number-field";
import { beginRender, MOVIE, wouldBe } from "./asking";
import { Presets } from "./presets";

const HEIGHTS = [540, 720, 1080, 2160];
const LINES = [
  ["safe", "Safe areas"],
  ["thirds", "Thirds"],
  ["centre", "Middle"],
  ["diagonals", "Diagonals"],
  ["protect", "Protected aspect"],
] as const;
const QUALITIES = [
  { value: "quick", label: "quick: one drawing a frame" },
  { value: "fine", label: "fine: lens and shutter, 64 drawings" },
  { value: "timed", label: "what fits so many seconds a frame" },
] as const;
const KEPT = "heron-render";

/** What was asked for last, on this machine. */
function remembered(): Render {
  try {
    return { ...MOVIE, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}") };
  } catch {
    return MOVIE;
  }
}

const beyond = (what: string, low: number, high: number) => ({
  title: "", remedy: "", status: 400, detail: `${what} is ${low} to ${high}. Type a number between.`,
}); // biome-ignore format: a refusal

interface Props {
  shots?: string[];
  camera?: string;
  onClose: () => void;
}

/** All that can be asked of a render, and what would come of it. */
export function RenderDialog({ shots, camera, onClose }: Props) {
  const scene = useDocument((s) => s.scene);
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const [render, setRender] = useState<Render>(() => {
    const last = { ...remembered(), note: "" };
    const { kind, ids } = useView.getState();
    const chosen = kind === "shot" ? ids : [];
    if (shots?.length || chosen.length) return { ...last, of: "shots", shots: shots ?? chosen };
    if (camera) return { ...last, of: "camera", camera };
    return { ...last, of: scene?.shots.length ? "cut" : "camera", shots: [] };
  });
  const [busy, setBusy] = useState(false);
  const range = render.frames ?? scene?.frames ?? { first: 0, last: 0 };
  const asked: Render =
    render.of === "camera"
      ? { ...render, shots: [], camera: render.camera ?? scene?.cameras[0]?.id ?? null, frames: range }
      : { ...render, camera: null, frames: null };
  const { data } = useQuery({ ...wouldBe(id, revision, asked), enabled: scene !== null });
  if (!scene) return null;
  const set = (change: Partial<Render>) => setRender((was) => ({ ...was, ...change }));
  const within = (name: keyof Render, what: string, low: number, high: number) => async (to: number) => {
    const next = name === "seconds" ? to : Math.round(to);
    if (next < low || next > high) return beyond(what, low, high);
    set({ [name]: next });
    return null;
  };
  const begin = async () => {
    setBusy(true);
    const { of, shots, camera, frames, note, ...kept } = render;
    localStorage.setItem(KEPT, JSON.stringify(kept));
    const problem = await beginRender({ ...asked, note });
    setBusy(false);
    if (!problem) onClose();
  };
  const plan = data?.plan;
  return (
    <Dialog title="Render" onClose={onClose} wide>
      <form
        className="grid grid-cols-2 gap-x-8 gap-y-4"
        data-testid="render"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <fieldset className="flex flex-col gap-2">
          <legend className="heading mb-1">What</legend>
          <div className="flex gap-1" role="group" aria-label="What is rendered">
            {(["cut", "shots", "camera"] as const).map((of) => (
              <Button key={of} on={render.of === of} onClick={() => set({ of })}>
                {{ cut: "The cut", shots: "Shots", camera: "A camera" }[of]}
              </Button>
            ))}
          </div>
          {render.of === "shots" && (
            <div className="flex max-h-32 flex-wrap gap-1 overflow-auto">
              {scene.shots.map((shot) => (
                <Button
                  key={shot.id}
                  on={render.shots.includes(shot.id)}
                  onClick={() =>
                    set({
                      shots: render.shots.includes(shot.id)
                        ? render.shots.filter((one) => one !== shot.id)
                        : [...render.shots, shot.id],
                    })
                  }
                >
                  {shot.name}
                </Button>
              ))}
            </div>
          )}
          {render.of === "camera" && (
            <>
              <div className="flex max-h-32 flex-wrap gap-1 overflow-auto">
                {scene.cameras.map((one) => (
                  <Button
                    key={one.id}
                    tip={one.name}
                    aria-label={`Camera ${one.letter}`}
                    on={asked.camera === one.id}
                    onClick={() => set({ camera: one.id })}
                  >
                    <Letter letter={one.letter} size={18} />
                  </Button>
                ))}
              </div>
              <div className="grid w-72 grid-cols-2 gap-3">
                {(["first", "last"] as const).map((end) => (
                  <NumberField
                    key={end}
                    label={end === "first" ? "From" : "To"}
                    digits={0}
                    step={1}
                    compact
                    value={range[end]}
                    onSet={async (to) => {
                      const next = { ...range, [end]: Math.round(to) };
                      if (next.first > next.last)
                        return beyond("The range", scene.frames.first, scene.frames.last);
                      set({ frames: next });
                      return null;
                    }}
                  />
                ))}
              </div>
            </>
          )}
          <NumberField
            label="Spare frames at both ends of each shot"
            unit="f"
            digits={0}
            step={1}
            value={render.spare}
            onSet={within("spare", "The number of spare frames", 0, 240)}
          />
        </fieldset>
        <fieldset className="flex flex-col gap-2">
          <legend className="heading mb-1">How</legend>
          <div className="flex items-center gap-1" role="group" aria-label="Height">
            {HEIGHTS.map((one) => (
              <Button key={one} on={render.high === one} onClick={() => set({ high: one })}>
                {one}
              </Button>
            ))}
            <div className="ml-2 flex-1">
              <NumberField
                label="high"
                unit="px"
                digits={0}
                step={2}
                value={render.high}
                onSet={within("high", "A picture's height", 16, 4320)}
              />
            </div>
          </div>
          <Choice
            label="Quality"
            value={render.quality}
            options={QUALITIES}
            onSet={(quality) => set({ quality })}
          />
          {render.quality === "timed" && (
            <NumberField
              label="Seconds for each frame"
              unit="s"
              digits={1}
              step={0.1}
              value={render.seconds}
              onSet={within("seconds", "A frame's time", 0.1, 600)}
            />
          )}
        </fieldset>
        <fieldset className="flex flex-col gap-2">
          <legend className="heading mb-1">Written on it</legend>
          <Tick on={render.slate} onSet={(slate) => set({ slate })}>
            a slate under the picture: scene, shot, camera, lens, focus, the clocks
          </Tick>
          <div className="flex flex-wrap gap-x-3 gap-y-1">
            {LINES.map(([name, label]) => (
              <Tick
                key={name}
                on={render.lines.includes(name)}
                onSet={(on) =>
                  set({ lines: on ? [...render.lines, name] : render.lines.filter((one) => one !== name) })
                }
              >
                {label}
                {name === "protect" && render.lines.includes("protect") && (
                  <input
                    aria-label="Protected aspect"
                    className="field ml-1 w-16"
                    value={render.protect}
                    onChange={(e) => set({ protect: e.target.value })}
                  />
                )}
              </Tick>
            ))}
          </div>
          <Tick on={render.leader} disabled={render.pictures === "none"} onSet={(leader) => set({ leader })}>
            a leader before each shot's pictures
          </Tick>
        </fieldset>
        <fieldset className="flex flex-col gap-2">
          <legend className="heading mb-1">What comes out</legend>
          <Tick on={render.movie} onSet={(movie) => set({ movie })}>
            a movie for showing, .mp4 (H.264)
          </Tick>
          {render.movie && (
            <NumberField
              label="Movie's rate factor, lower is better"
              digits={0}
              step={1}
              value={render.movie_factor}
              onSet={within("movie_factor", "The rate factor", 10, 40)}
            />
          )}
          <Choice
            label="Pictures"
            value={render.pictures}
            options={[
              { value: "none", label: "none" },
              { value: "png", label: "PNG, a folder for each shot" },
              { value: "jpeg", label: "JPEG, a folder for each shot" },
            ]}
            onSet={(pictures) => set({ pictures })}
          />
          {render.pictures === "jpeg" && (
            <NumberField
              label="JPEG quality, higher is better"
              digits={0}
              step={1}
              value={render.jpeg}
              onSet={within("jpeg", "JPEG quality", 1, 100)}
            />
          )}
          <p className="text-xs text-faint">
            Of the cut and of its shots also an .otio whose clips point at what is rendered. A scene has no
            sound yet, and so a movie has none.
          </p>
        </fieldset>
        <div className="col-span-2 flex flex-col gap-2 border-t border-line pt-3">
          <label className="flex items-center gap-2 text-sm">
            <span className="text-faint">Note</span>
            <input
              className="field flex-1"
              maxLength={200}
              placeholder="What is to be seen in it"
              value={render.note}
              onChange={(e) => set({ note: e.target.value })}
            />
          </label>
          <Presets render={render} onSet={set} />
          {data?.problem && (
            <p role="alert" className="rounded-sm bg-brick-wash px-1.5 py-0.5 text-sm text-brick">
              {data.problem.detail}
            </p>
          )}
          <div className="flex items-center gap-3">
            <p className="flex-1 text-sm" data-testid="would-be">
              {plan && !data?.problem && (
                <>
                  {plan.frames} frames of {plan.written_wide} × {plan.written_high}
                  {plan.kept > 0 && `; ${plan.kept} are as they were, ${plan.frames - plan.kept} are drawn`}.{" "}
                  {plan.said.join(" ")}
                </>
              )}
            </p>
            <Button onClick={onClose}>Cancel</Button>
            <Button type="submit" tone="main" disabled={busy || !plan || !!data?.problem}>
              Render
            </Button>
          </div>
        </div>
      </form>
    </Dialog>
  );
}

function Tick(props: {
  on: boolean;
  disabled?: boolean;
  onSet: (on: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <label className={`flex items-center gap-1.5 text-sm ${props.disabled ? "opacity-50" : ""}`}>
      <input
        type="checkbox"
        className="accent-slate"
        checked={props.on}
        disabled={props.disabled}
        onChange={(e) => props.onSet(e.target.checked)}
      />
      {props.children}
    </label>
  );
}
