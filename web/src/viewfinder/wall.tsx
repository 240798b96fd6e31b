import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client } from "../api/client";
import { redraw } from "../picture/renderer/redraw";
import { onWall, SAID, useWallFound, useWallPace, wallBoxes } from "../picture/wall";
import { shotsPlayed, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { lookAhead, useProposed } from "../store/proposed";
import { cameraColumns, rowOf, useVersions } from "../store/samples";
import { useOnAir } from "../store/seen";
import { lookThrough, select, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { useSettled } from "../ui/settled";
import { cutLive, cutsLive } from "../verbs/live";

const OF = [
  { value: "all", label: "All cameras" },
  { value: "shot", label: "Of this shot's range" },
  { value: "cut", label: "Used in the cut" },
  { value: "chosen", label: "The selected ones" },
  { value: "figure", label: "Of the selected figure" },
] as const;

/** What is wrong with each angle at a moment at rest: empty, hidden, out of focus. */
function useAngles(): Record<string, string> {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const playing = useMoment((s) => s.playing);
  const stage = useSettled(useMoment((s) => s.stage));
  const { data } = useQuery({
    queryKey: ["angles", id, revision, stage],
    enabled: !playing,
    queryFn: async () => {
      const asked = { params: { path: { scene_id: id }, query: { frame: stage } } };
      return (await ask(client.GET("/api/scenes/{scene_id}/angles", asked))).data ?? {};
    },
  });
  return (!playing && data) || {};
}

/** Have the cameras found that have to do with the shot that is shown, or with the selected figure. */
function useFound(): void {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const wallOf = usePreferences((s) => s.wallOf);
  const figure = useView((s) => (s.kind === "figure" ? s.ids[0] : undefined));
  const shot = useMoment((s) => s.shot);
  const stage = useDocument((s) => shotsPlayed(s)[shot]?.stage);
  const query =
    wallOf === "shot" && stage
      ? { first: stage.first, last: stage.last }
      : wallOf === "figure" && figure
        ? { figure }
        : null;
  const { data } = useQuery({
    queryKey: ["concerned", id, revision, query],
    enabled: query !== null,
    queryFn: async () => {
      const asked = { params: { path: { scene_id: id }, query: query ?? {} } };
      return (await ask(client.GET("/api/scenes/{scene_id}/cameras", asked))).data ?? null;
    },
    placeholderData: (was) => was,
  });
  const ids = (query && data) || null;
  useEffect(() => {
    useWallFound.setState({ ids });
    redraw(false);
  }, [ids]);
}

/** What is said of each picture of the wall; a press looks through it, or cuts to it while the cut plays. */
export function WallLabels({ width, height }: { width: number; height: number }) {
  const scene = useDocument((s) => s.shown);
  const { wallColumns } = usePreferences();
  const row = useView((s) => s.wallRow);
  const held = useView((s) => s.held);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const stage = useMoment((s) => s.stage);
  const onAir = useOnAir();
  useVersions((s) => s.of);
  useFound();
  useWallFound((s) => s.ids);
  const proposed = useProposed((s) => s.ids);
  const angles = useAngles();
  const cameras = onWall(scene);
  if (!scene) return null;
  const at = cameraColumns();
  const boxes = wallBoxes(
    cameras.length,
    scene.delivery.aspect,
    width,
    height,
    held.length === 2 ? 0 : wallColumns,
    row,
  );
  return (
    <div
      className="absolute inset-0"
      data-testid="wall"
      onWheel={(e) => useView.setState((s) => ({ wallRow: Math.max(s.wallRow + Math.sign(e.deltaY), 0) }))}
    >
      {cameras.map((camera, i) => {
        const box = boxes[i];
        if (!box) return null;
        const [x, y, w, h] = box;
        const samples = rowOf(camera.id, stage);
        const air = camera.id === onAir;
        const chosen = kind === "camera" && ids.includes(camera.id);
        const said = angles[camera.id];
        return (
          <button
            // Both pictures beside each other can be one camera's.
            key={`${camera.id} ${cameras.indexOf(camera) === i}`}
            type="button"
            className={`absolute flex cursor-pointer flex-col text-left outline-offset-2 ${air ? "outline-3 outline-brick" : chosen ? "outline-2 outline-slate" : "outline-1 outline-black/50 hover:outline-white"}`}
            style={{ left: x * width, top: (1 - y - h) * height, width: w * width, height: h * height }}
            aria-label={`Look through camera ${camera.letter} ${camera.name}${air ? ", on air" : ""}`}
            title={`${camera.letter} ${camera.name}: a press looks through it; while the cut plays it cuts to it. Shift holds two beside each other; Ctrl selects it.`}
            data-wall={camera.letter}
            onClick={(e) => {
              if (proposed.includes(camera.id)) lookAhead(camera.id);
              else if (e.ctrlKey || e.metaKey) select("camera", [camera.id]);
              else if (e.shiftKey) hold(camera.id);
              else if (cutsLive()) cutLive(camera.id);
              else {
                useView.setState({ wall: false, held: [] });
                lookThrough({ camera: camera.id });
              }
            }}
          >
            {air && (
              <b className="absolute top-1 left-1 rounded bg-brick px-1.5 text-xs text-white">on air</b>
            )}
            {said && (
              <span className="absolute top-1 right-1 rounded bg-ochre px-1.5 text-xs text-white">
                {said}
              </span>
            )}
            <span
              className="absolute inset-x-0 top-full flex items-center gap-1.5 overflow-hidden text-sm whitespace-nowrap text-white"
              style={{ height: SAID }}
            >
              <Letter letter={camera.letter} size={18} air={air} />
              <span className="truncate">{camera.name}</span>
              {samples && <b>{Number(samples[at.focal_mm].toFixed(1))} mm</b>}
            </span>
          </button>
        );
      })}
    </div>
  );
}

/** Hold a camera's picture large beside another one. */
function hold(camera: string): void {
  useView.setState(({ held }) => ({
    held: held.includes(camera) ? held.filter((id) => id !== camera) : [...held.slice(-1), camera],
  }));
}

/** How the wall is filtered and sized. */
export function WallBar() {
  const { wallOf, wallColumns } = usePreferences();
  const proposed = useProposed((s) => s.ids);
  const held = useView((s) => s.held);
  const later = useView((s) => s.heldLater);
  const playing = useMoment((s) => s.playing);
  const every = useWallPace((s) => s.every);
  return (
    <div className="flex h-8 items-center gap-3 border-t border-line px-3 text-sm" data-testid="wall-bar">
      {held.length === 2 ? (
        <>
          <label className="flex items-center gap-2">
            Second one later by
            <input
              type="number"
              className="field w-16"
              aria-label="Second one later by"
              value={later}
              onKeyDown={(e) => e.stopPropagation()}
              onChange={(e) => useView.setState({ heldLater: Math.round(Number(e.target.value)) || 0 })}
            />
            f
          </label>
          <Button onClick={() => useView.setState({ held: [], heldLater: 0 })}>Back to all</Button>
        </>
      ) : (
        <>
          {proposed.length ? (
            <b>Cameras that are proposed</b>
          ) : (
            <Choice
              label="Show"
              value={wallOf}
              options={OF}
              onSet={(value) => usePreferences.setState({ wallOf: value })}
            />
          )}
          <label className="flex items-center gap-2">
            Size
            <input
              type="range"
              aria-label="Size of the pictures"
              className="accent-slate"
              min={0}
              max={5}
              value={wallColumns ? 6 - wallColumns : 0}
              onKeyDown={(e) => e.stopPropagation()}
              onChange={(e) => {
                const size = Number(e.target.value);
                usePreferences.setState({ wallColumns: size ? 6 - size : 0 });
                useView.setState({ wallRow: 0 });
              }}
            />
            <span className="text-faint">{wallColumns ? `${wallColumns} across` : "all fit"}</span>
          </label>
          {playing && every > 1 && (
            <span className="text-faint" data-testid="wall-pace">
              on air every frame, the others one in {every}
            </span>
          )}
          {held.length === 1 && <span className="text-faint">Shift press a second one to hold both</span>}
        </>
      )}
    </div>
  );
}
