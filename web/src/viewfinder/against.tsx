import { sideBySide } from "../picture/sight";
import { otherNow, useAgainst } from "../store/against";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { OneOf } from "../ui/one-of";

/** What is said under the two pictures: which cut, which shot, which camera. */
export function AgainstLabels({ width, height }: { width: number; height: number }) {
  const held = useAgainst((s) => s.held);
  const scene = useDocument((s) => s.shown);
  const shot = useMoment((s) => (s.gap ? -1 : s.shot));
  useMoment((s) => s.cut);
  useMoment((s) => s.stage);
  if (!held || !scene) return null;
  const boxes = sideBySide(2, scene.delivery.aspect, width / height);
  const own = scene.shots[shot];
  const other = otherNow();
  const both = [
    { cut: scene.cut_name || "This cut", shot: own?.name, camera: own?.camera },
    { cut: held.name, shot: other?.name, camera: other?.camera },
  ];
  return both.map((one, i) => {
    const [x, y, w, h] = boxes[i];
    const camera = itemOf(scene, "cameras", one.camera ?? null);
    return (
      <div key={i === 0 ? "own" : "other"}>
        {!camera && (
          <div
            className="absolute grid place-items-center bg-black text-sm text-white/60"
            style={{ left: x * width, top: (1 - y - h) * height, width: w * width, height: h * height }}
          >
            Black
          </div>
        )}
        <p
          className="absolute flex items-center gap-1.5 text-sm text-white"
          style={{ left: x * width, top: (1 - y) * height + 6, width: w * width }}
          data-testid={i === 0 ? "against-own" : "against-other"}
        >
          <b className="truncate">{one.cut}</b>
          {camera && <Letter letter={camera.letter} size={18} />}
          {one.shot}
        </p>
      </div>
    );
  });
}

/** How the two go in step, and the way out. */
export function AgainstBar() {
  const held = useAgainst((s) => s.held);
  if (!held) return null;
  return (
    <div className="flex h-8 items-center gap-3 border-t border-line px-3 text-sm" data-testid="against-bar">
      <span className="text-faint">In step by</span>
      <OneOf
        label="In step by"
        value={held.by}
        options={[
          { value: "cut", label: "Cut", tip: "The same frame of both cuts" },
          {
            value: "action",
            label: "Action",
            tip: "The same moment of the stage, where the other cut shows it",
          },
          { value: "shot", label: "Shot", tip: "As far into the same shot, however long it is" },
        ]}
        onSet={(by) => useAgainst.setState({ held: { ...held, by } })}
      />
      <Button hint="Esc" tip="The cut alone again" onClick={() => useAgainst.setState({ held: null })}>
        Done
      </Button>
    </div>
  );
}
