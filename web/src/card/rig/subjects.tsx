import { Crosshair, Plus, X } from "lucide-react";
import type { Camera, Layer } from "../../api/types";
import { useDocument } from "../../store/document";
import { useView } from "../../store/view";
import { focusName } from "../../store/words";
import { Button } from "../../ui/button";
import { pickSubject, setSpots, spotsOf, takesSeveral } from "../../verbs/rig";

/** The subjects of a layer, each to be pointed at again, and more of them where there may be several. */
export function Subjects({ camera, layer, shut }: { camera: Camera; layer: Layer; shut: boolean }) {
  const scene = useDocument((s) => s.shown);
  const picking = useView((s) =>
    s.pickedFor && "layer" in s.pickedFor && s.pickedFor.layer === layer.id ? s.picking : null,
  );
  const spots = spotsOf(layer);
  // An arm on another layer may do without: it swings round the place that one gives.
  const above = layer.kind === "arm" && camera.layers.findIndex((l) => l.id === layer.id) > 0;
  if (!scene || (spots.length === 0 && !takesSeveral(layer))) return null;
  const take = (i: number) =>
    setSpots(
      camera.id,
      layer,
      spots.filter((_, k) => k !== i),
    );
  return (
    <div className="flex flex-wrap items-center gap-1 text-sm" data-testid="subjects">
      <span className="mr-auto text-faint">{spots.length > 1 ? "Subjects" : "Subject"}</span>
      {spots.length === 0 && <span>where the layer above puts it</span>}
      {spots.map((spot, i) => (
        <span
          key={`${i}${focusName(scene, spot)}`}
          className="flex h-7 items-center gap-1 rounded-[3px] border border-line bg-sheet px-2"
        >
          {focusName(scene, spot)}
          {(spots.length > 1 || above) && (
            <button
              type="button"
              aria-label={`Remove ${focusName(scene, spot)}`}
              title="No longer a subject of this layer"
              disabled={shut}
              onClick={() => take(i)}
            >
              <X size={12} />
            </button>
          )}
        </span>
      ))}
      <Button
        tip="Point at something else in the picture or on the plan"
        on={picking === "instead"}
        disabled={shut}
        onClick={() => pickSubject(camera.id, layer.id, "instead")}
      >
        <Crosshair size={13} /> Other
      </Button>
      {takesSeveral(layer) && (
        <Button
          tip="Point at one more in the picture or on the plan"
          on={picking === "also"}
          disabled={shut}
          onClick={() => pickSubject(camera.id, layer.id, "also")}
        >
          <Plus size={13} /> Also
        </Button>
      )}
    </div>
  );
}
