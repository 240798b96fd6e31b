import { boardUrl } from "../api/client";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";

/** The board of the shot on air, held over the camera's picture or beside it. */
export function Board() {
  const shot = useDocument((s) => s.shown?.shots)?.[useMoment((s) => s.shot)];
  const { boards, boardStrength } = usePreferences();
  if (!shot?.board || boards === "hidden") return null;
  return (
    <img
      src={boardUrl(shot.board)}
      alt={`Board of shot ${shot.name}`}
      className={
        boards === "over"
          ? "absolute inset-0 h-full w-full object-contain"
          : "absolute right-2 bottom-2 w-[28%] border-2 border-white shadow"
      }
      style={boards === "over" ? { opacity: boardStrength } : undefined}
      data-testid="board"
    />
  );
}
