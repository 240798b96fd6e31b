import { ask, client } from "../api/client";
import type { Camera, Command, GlassName, Pointed, Problem } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { cameraSeen, complain, notice, useView } from "../store/view";
import { meantCamera } from "./cameras";
import { setKeyOn } from "./keys";

const stage = () => useMoment.getState().stage;
const cameraOf = (id: string | null) => itemOf(useDocument.getState().scene, "cameras", id);

/** The figure a size is kept of, when one is chosen. */
const chosenFigure = () => {
  const { kind, ids } = useView.getState();
  return kind === "figure" ? { figure: ids[0] } : {};
};

/** The next lens of the kit, keeping the camera's place or the figure's size. */
export async function stepLens(step: -1 | 1, keep: "place" | "size"): Promise<void> {
  const camera = cameraSeen() ?? meantCamera();
  if (!camera)
    return notice("No camera is chosen.", "Look through one, or select one, then change its lens.");
  complain(await send({ kind: "camera.mount", camera, step, keep, frame: stage(), ...chosenFigure() }));
}

export function mountLens(
  camera: string,
  lens: string | null,
  keep: "place" | "size" = "place",
): Promise<Problem | null> {
  return send({ kind: "camera.mount", camera, lens, keep, frame: stage(), ...chosenFigure() });
}

/** The command that gives a lens, stop or exposure a value: on the key that is here, else for the whole scene. */
export function glassCommand(camera: string, name: GlassName, value: number, force = false): Command {
  if (name === "focal") return { kind: "camera.set", camera, focal: value, frame: stage(), force };
  const { hold } = usePreferences.getState();
  return { kind: "camera.glass", camera, [name]: value, hold, frame: stage(), force };
}

export const keyGlass = (camera: string, name: GlassName, value: number) =>
  send(setKeyOn(camera, name, stage(), value));

/** What may be done about a refusal of a lens, stop or exposure, besides what the core offers. */
export function glassRemedy(camera: Camera, name: GlassName) {
  return (problem: Problem, value: number) =>
    problem.field === name
      ? { label: `Set a key at ${stage()}`, act: () => keyGlass(camera.id, name, value) }
      : null;
}

/** Take up or put down the tool that focuses on what is pointed at. */
export function pickFocus(how: "focus" | "rack"): void {
  const camera = cameraSeen() ?? meantCamera();
  if (!camera) {
    notice("No camera is chosen.", "Look through one, then point at what it focuses on.");
    return;
  }
  useView.setState((s) => ({ picking: s.picking === how ? null : how, tool: "select" }));
}

/** Focus the camera on something pointed at, or rack to it at this frame. */
export async function focusOn(on: Pointed): Promise<void> {
  const { picking } = useView.getState();
  const camera = cameraOf(cameraSeen() ?? meantCamera());
  useView.setState({ picking: null });
  if (!camera) return;
  const command: Command =
    picking === "rack"
      ? { kind: "focus.rack", camera: camera.id, frame: stage(), on }
      : { kind: "focus.set", camera: camera.id, frame: stage(), on };
  complain(await send(command));
}

/** Compare lenses on the figure in the frame; called again, stop. */
export function toggleCompare(): void {
  const { comparing } = useView.getState();
  const camera = cameraOf(cameraSeen());
  if (comparing) {
    useView.setState({ comparing: null });
    return;
  }
  if (!camera) {
    notice("Lenses are compared through a camera.", "Look through one first.");
    return;
  }
  void compareLenses(camera.id, null, true);
}

/** Ask what some lenses make of the figure; unless it begins a comparison, only while one is on. */
export async function compareLenses(camera: string, focals: number[] | null, begin = false): Promise<void> {
  const { id } = useDocument.getState();
  if (id === null) return;
  const frame = stage();
  const { data, problem } = await ask(
    client.POST("/api/scenes/{scene_id}/compare", {
      params: { path: { scene_id: id } },
      body: { camera, frame, ...(focals ? { focals } : {}), ...chosenFigure() },
    }),
  );
  if (!begin && !useView.getState().comparing) return;
  if (problem) {
    useView.setState({ comparing: null });
    complain(problem);
    return;
  }
  const chosen = focals ?? data.map((one) => one.focal_mm);
  useView.setState({ comparing: { camera, frame, focals: chosen, found: data } });
}
