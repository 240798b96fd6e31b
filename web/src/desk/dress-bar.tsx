import { dressShot, itemOf, useDocument } from "../store/document";
import { select } from "../store/view";
import { Button } from "../ui/button";

/** Says, as long as a shot is dressed, that changes are for it alone. */
export function DressBar() {
  const shot = useDocument((s) => itemOf(s.shown, "shots", s.dress));
  if (!shot) return null;
  return (
    <div
      role="status"
      className="ml-2 flex h-8 min-w-0 items-center gap-2 rounded bg-ochre/20 pl-2 text-sm"
      title="Where pieces stand, what is hidden, the light and the haze change for this shot alone; all else for the whole scene."
      data-testid="dress-bar"
    >
      <button type="button" className="truncate hover:underline" onClick={() => select("shot", [shot.id])}>
        Dressing <b>shot {shot.name}</b> alone
      </button>
      <Button tone="ochre" hint="Shift S" tip="Go on with the scene" onClick={() => dressShot(null)}>
        Done
      </Button>
    </div>
  );
}
