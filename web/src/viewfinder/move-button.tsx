import { MoveRight } from "lucide-react";
import type { Camera } from "../api/types";
import { toggleSide, useView } from "../store/view";

/** Opens the panel in which a camera's move is chosen; it stands beside the picture, never over it. */
export function MoveButton({ camera }: { camera: Camera }) {
  const open = useView((s) => s.side === "move");
  return (
    <button
      type="button"
      className={`flex items-center gap-1 text-sm whitespace-nowrap hover:underline disabled:no-underline ${open ? "font-semibold" : ""}`}
      title="Choose a move: pan, dolly, go round somebody, dolly zoom, hold…"
      aria-pressed={open}
      disabled={camera.locked}
      onClick={() => toggleSide("move")}
      data-testid="move"
    >
      <MoveRight size={14} className="text-faint" />
      Move…
    </button>
  );
}
