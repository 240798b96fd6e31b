import { sideBySide } from "../picture/sight";
import { itemOf, useDocument } from "../store/document";
import { useView } from "../store/view";
import { Letter } from "../ui/badge";

/** What is said under the frames at an edge that is trimmed. */
export function EdgeLabels({ width, height }: { width: number; height: number }) {
  const edges = useView((s) => s.edges);
  const scene = useDocument((s) => s.shown);
  const aspect = scene?.delivery.aspect ?? 16 / 9;
  if (!edges) return null;
  const boxes = sideBySide(edges.length, aspect, width / height);
  return edges.map((edge, i) => {
    const [x, y, w] = boxes[i];
    const camera = itemOf(scene, "cameras", edge.camera);
    return (
      <p
        key={edge.side}
        className="absolute flex items-center gap-1.5 text-sm text-white"
        style={{ left: x * width, top: (1 - y) * height + 6, width: w * width }}
        data-testid={`edge-${edge.side}`}
      >
        {camera && <Letter letter={camera.letter} size={18} />}
        <b>{edge.shot}</b> {edge.side === "last" ? "ends on" : "begins on"} <b>{edge.frame}</b>
      </p>
    );
  });
}
