import { useQuery } from "@tanstack/react-query";
import { glassAt } from "../api/queries";
import type { Camera, Layer } from "../api/types";
import { useDocument } from "./document";
import { useMoment } from "./moment";

/** What a layer's numbers are at this frame, as the core has them. */
export function useValues(camera: Camera, layer: Layer): Record<string, number> {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({
    ...glassAt(id, camera.id, stage, revision),
    enabled: !playing,
    placeholderData: (was) => was,
  });
  return data?.layers[layer.id] ?? {};
}
