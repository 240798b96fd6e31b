import type { Camera } from "../api/types";
import { useDocument } from "../store/document";
import { samplesOf } from "../store/samples";
import { useAlong, visible, xOf } from "../ui/strip";

/** Something that goes on over a range of the stage, as a thin bar on a lane. */
interface Over {
  id: string;
  first: number;
  last: number;
  says: string;
  faint: boolean;
  kind: string;
}

/** Thin bars under each other at the foot of a lane. */
function Bars({ bars }: { bars: Over[] }) {
  const along = useAlong();
  return bars
    .map((bar, i) => ({ ...bar, i }))
    .filter(({ first, last }) => visible(along, first, last))
    .map(({ id, first, last, says, faint, kind, i }) => (
      <div
        key={id}
        title={`${says} (${first}–${last})`}
        data-layer={kind}
        className={`absolute h-[2px] rounded-full ${faint ? "opacity-30" : ""}`}
        style={{
          left: xOf(along, first),
          width: (last - first + 1) * along.ppf,
          bottom: 1 + 3 * (bars.length - 1 - i),
          background: "var(--slate)",
        }}
      />
    ));
}

/** What carries the selected camera, a bar for each layer over its range. */
export function LayerBars({ camera }: { camera: Camera }) {
  const frames = useDocument((s) => s.shown?.frames);
  const parts = new Map((samplesOf(camera.id)?.facts.rig as [string, string][] | undefined) ?? []);
  if (!frames) return null;
  const bars = camera.layers.map((layer) => ({
    id: layer.id,
    first: layer.first ?? frames.first,
    last: layer.last ?? frames.last,
    says: parts.get(layer.id) ?? layer.kind,
    faint: layer.off,
    kind: layer.kind,
  }));
  return <Bars bars={bars} />;
}
