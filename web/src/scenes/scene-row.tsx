import { useEffect } from "react";
import { rateName } from "../api/catalogue";
import { ask, client } from "../api/client";
import type { Problem, SceneLine } from "../api/types";
import { Button } from "../ui/button";
import { when } from "../ui/when";
import { useDrawn, wantPicture } from "./pictures";

/** A scene in the list: its picture, its cut, and what can be done with it. */
export function SceneRow({
  scene,
  onOpen,
  done,
}: {
  scene: SceneLine;
  onOpen: (id: number) => void;
  done: (answer: Promise<{ problem: Problem | null }>) => void;
}) {
  const path = { params: { path: { scene_id: scene.id } } };
  const count = (many: number, one: string) => `${many} ${one}${many === 1 ? "" : "s"}`;
  return (
    <li className="flex items-center gap-3 py-2" data-scene={scene.name}>
      <button
        type="button"
        className="flex min-w-0 flex-1 items-center gap-3 text-left hover:text-slate"
        onClick={() => onOpen(scene.id)}
      >
        <Picture scene={scene} />
        <span className="min-w-0">
          <span className="block truncate text-base font-semibold">{scene.name}</span>
          <span className="block text-sm">
            {scene.cut
              ? `${count(scene.shots, "shot")}, ${scene.cut} f · ${scene.seconds.toFixed(1)} s`
              : "No shots yet"}
          </span>
          <span className="block truncate text-sm text-faint">
            {scene.first}–{scene.last} at {rateName(scene.rate)} fps · {count(scene.cameras, "camera")} ·{" "}
            {when(scene.changed)}
          </span>
        </span>
      </button>
      <Button tone="main" onClick={() => onOpen(scene.id)}>
        Open
      </Button>
      <Button
        aria-label={`Copy ${scene.name}`}
        onClick={() => done(ask(client.POST("/api/scenes/{scene_id}/copy", path)))}
      >
        Copy
      </Button>
      <Button
        aria-label={`Put ${scene.name} in the trash`}
        tip="In the trash it can be brought back for 30 days"
        onClick={() => done(ask(client.DELETE("/api/scenes/{scene_id}", path)))}
      >
        Trash
      </Button>
    </li>
  );
}

/** Its picture, from what is kept; drawn again where that is older than the scene, or missing. */
function Picture({ scene }: { scene: SceneLine }) {
  const drawn = useDrawn((s) => s[scene.id]);
  const there = scene.picture === scene.revision || drawn?.revision === scene.revision;
  useEffect(() => {
    if (!there) wantPicture(scene);
  }, [there, scene]);
  const kept = scene.picture === null ? undefined : `/api/scenes/${scene.id}/picture?of=${scene.picture}`;
  const address = drawn?.url ?? kept;
  return (
    <span
      className="flex h-[54px] w-24 shrink-0 items-center justify-center overflow-hidden rounded-[2px] bg-ink text-xs text-paper"
      data-testid="scene-picture"
    >
      {address && <img src={address} alt="" className="h-full w-full object-contain" />}
      {!scene.pictured && "no camera"}
    </span>
  );
}
