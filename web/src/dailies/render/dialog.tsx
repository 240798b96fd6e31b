import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Render } from "../../api/types";
import { useDocument } from "../../store/document";
import { cameraSeen, useView } from "../../store/view";
import { Button } from "../../ui/button";
import { Dialog } from "../../ui/dialog";
import { beginRender, MOVIE, wouldBe } from "../asking";
import { How } from "./how";
import { Out } from "./out";
import { Presets } from "./presets";
import { What } from "./what";
import { Written } from "./written";

const KEPT = "heron-render";

/** What was asked for last, on this machine. */
function remembered(): Render {
  try {
    return { ...MOVIE, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}") };
  } catch {
    return MOVIE;
  }
}

interface Props {
  shots?: string[];
  camera?: string;
  onClose: () => void;
}

/** Every setting of a render, and what it would produce. */
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
      ? {
          ...render,
          shots: [],
          camera: render.camera ?? cameraSeen() ?? scene?.cameras[0]?.id ?? null,
          frames: range,
        }
      : { ...render, camera: null, frames: null };
  const { data } = useQuery({ ...wouldBe(id, revision, asked), enabled: scene !== null });
  if (!scene) return null;
  const set = (change: Partial<Render>) => setRender((was) => ({ ...was, ...change }));
  const begin = async () => {
    setBusy(true);
    const { of, shots, camera, frames, note, ...kept } = render;
    const problem = await beginRender({ ...asked, note });
    setBusy(false);
    if (problem) return;
    localStorage.setItem(KEPT, JSON.stringify(kept));
    onClose();
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
        <What render={asked} onSet={set} scene={scene} />
        <How render={render} onSet={set} />
        <Written render={render} onSet={set} />
        <Out render={render} onSet={set} />
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
                  {plan.kept > 0 && `; ${plan.kept} are unchanged, ${plan.frames - plan.kept} to render`}.{" "}
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
