import { useDocument } from "../store/document";
import { useView } from "../store/view";
import { CameraCard } from "./camera-card";
import { FigureCard } from "./figure-card";
import { MoverCard } from "./mover-card";
import { PerchCard } from "./perch-card";
import { PieceCard } from "./piece-card";
import { SceneCard } from "./scene-card";
import { ShotCard } from "./shot-card";

/** The card of whatever is selected; of the scene when nothing is. */
export function Card() {
  const scene = useDocument((s) => s.shown);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  if (!scene) return null;
  const camera = kind === "camera" && scene.cameras.find((c) => c.id === ids[0]);
  const figure = kind === "figure" && scene.figures.find((f) => f.id === ids[0]);
  const mover = kind === "mover" && scene.movers.find((m) => m.id === ids[0]);
  const perch = kind === "perch" && scene.perches.find((p) => p.id === ids[0]);
  const shots = kind === "shot" ? scene.shots.filter((s) => ids.includes(s.id)) : [];
  const pieces = kind === "piece" ? scene.pieces.filter((p) => ids.includes(p.id)) : [];
  return (
    <aside aria-label="Card" className="h-full overflow-x-hidden overflow-y-auto bg-paper">
      {camera ? (
        <CameraCard key={camera.id} camera={camera} />
      ) : figure ? (
        <FigureCard key={figure.id} figure={figure} />
      ) : mover ? (
        <MoverCard key={mover.id} mover={mover} />
      ) : perch ? (
        <PerchCard key={perch.id} perch={perch} />
      ) : shots.length > 0 ? (
        <ShotCard key={ids.join()} shots={shots} />
      ) : pieces.length > 0 ? (
        <PieceCard key={ids.join()} pieces={pieces} />
      ) : (
        <SceneCard scene={scene} />
      )}
    </aside>
  );
}
