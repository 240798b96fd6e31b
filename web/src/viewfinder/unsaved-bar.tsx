import type { Camera } from "../api/types";
import { POSE } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { dropUnsaved, goUnsaved, jumpUnsaved, keepUnsaved, useUnsaved } from "../store/unsaved";
import { Button } from "../ui/button";
import { Menu, MenuItem } from "../ui/menu";

/** A keyed camera was moved by hand: say that it is not kept, and what can be done. */
export function UnsavedBar() {
  const unsaved = useUnsaved((s) => s.unsaved);
  const camera = useDocument((s) => itemOf(s.scene, "cameras", unsaved?.camera ?? null));
  const stage = useMoment((s) => s.stage);
  if (!unsaved || !camera) return null;
  const here = stage === unsaved.frame;
  return (
    <div
      role="status"
      className="-mx-3 flex h-8 min-w-0 flex-1 items-center gap-1.5 bg-ochre/15 px-3 text-ink"
      data-testid="unsaved"
    >
      <span className="min-w-0 flex-1 truncate">
        <b>
          Camera {camera.letter} moved at {unsaved.frame}, not saved.
        </b>{" "}
        {here ? "Its keys are unchanged." : "You have left that frame."}
      </span>
      {!here && <Button onClick={goUnsaved}>Go to {unsaved.frame}</Button>}
      <Button
        tone="ochre"
        tip="Set a key here with this place and direction"
        hint="K"
        onClick={() => keepUnsaved("pose")}
      >
        Keep as key
      </Button>
      <Button tip="Shift every key by the same amount" onClick={() => keepUnsaved("path")}>
        Move whole path
      </Button>
      <Jump camera={camera} frame={unsaved.frame} />
      <Button tip="Discard the move" hint="Esc" onClick={dropUnsaved}>
        Drop
      </Button>
    </div>
  );
}

/** Cut here by keys; where keys come later it is asked, in place, whether they go with the new view. */
function Jump({ camera, frame }: { camera: Camera; frame: number }) {
  const later = POSE.some((name) => camera[name].keys.some((key) => key.frame > frame));
  const tip = `The old view up to ${frame - 1}, this one from ${frame} on`;
  if (!later)
    return (
      <Button tip={tip} onClick={() => void jumpUnsaved("stay")}>
        Cut to it
      </Button>
    );
  return (
    <Menu trigger={<Button tip={tip}>Cut to it</Button>}>
      <MenuItem onSelect={() => void jumpUnsaved("stay")} note="The camera returns to them">
        Later keys stay as they are
      </MenuItem>
      <MenuItem onSelect={() => void jumpUnsaved("move")} note="Later keys are shifted by the same amount">
        Later keys move with this view
      </MenuItem>
    </Menu>
  );
}
