import { itemOf, useDocument } from "../store/document";
import { hue } from "../store/hues";
import { CUT, placedShots, useVersion } from "../store/samples";
import { Letter } from "../ui/badge";
import { Lane, useAlong, visible, xOf } from "../ui/strip";
import { chooseVersion } from "../verbs/cutting";
import { signed } from "./edit-drag";

/** How high a version is, and how far from the next, pixels. */
const ROW = 20;

/** Under the shots the versions of them that are not chosen; a press chooses one. */
export default function VersionRows() {
  const along = useAlong();
  const scene = useDocument((s) => s.shown);
  useVersion(CUT);
  const places = new Map(placedShots().map((placed) => [placed.id, placed]));
  const shots = scene?.shots.filter((shot) => shot.versions.length > 0) ?? [];
  const most = Math.max(...shots.map((shot) => shot.versions.length), 1);
  return (
    <Lane name="Versions" height={most * ROW + 2}>
      {shots.flatMap((shot) => {
        const placed = places.get(shot.id);
        if (!placed || !visible(along, placed.cut_first, placed.cut_last)) return [];
        const length = placed.cut_last - placed.cut_first + 1;
        const width = Math.max(length * along.ppf - 1, 14);
        return shot.versions.map((one, row) => {
          const camera = itemOf(scene, "cameras", one.camera ?? null);
          const frames = one.stage.last - one.stage.first + 1;
          const other = frames === length ? "" : ` · ${signed(frames - length)}`;
          return (
            <button
              key={`${shot.id} ${one.name}`}
              type="button"
              className="absolute flex items-center gap-1 overflow-hidden rounded-[3px] border border-line border-l-4 bg-paper px-1 text-left text-xs whitespace-nowrap hover:bg-sheet"
              style={{
                left: xOf(along, placed.cut_first), width, top: row * ROW + 2, height: ROW - 3,
                borderLeftColor: camera ? hue(camera.letter) : "var(--line)",
              }} // biome-ignore format: one place
              title={`Shot ${shot.name} as “${one.name}”, stage ${one.stage.first}–${one.stage.last}, ${frames} f: a press chooses it`}
              aria-label={`Choose “${one.name}” for shot ${shot.name}`}
              data-version={one.name}
              onClick={() => chooseVersion(shot.id, one.name)}
            >
              {camera && width > 40 && <Letter letter={camera.letter} size={14} />}
              <span className="truncate">
                {one.name}
                {other}
              </span>
            </button>
          );
        });
      })}
    </Lane>
  );
}
