import { Bookmark } from "lucide-react";
import { lazy, Suspense } from "react";
import { useDocument } from "../store/document";
import { Button } from "../ui/button";
import { fetched } from "../ui/fetched";
import { Popped } from "../ui/menu";

const PerchList = lazy(() => fetched(() => import("./perch-list")).then((m) => ({ default: m.PerchList })));

/** Saved views: listed by name and group. */
export function Perches() {
  const count = useDocument((s) => s.scene?.perches.length) ?? 0;
  return (
    <Popped
      label="Perches"
      trigger={
        <Button tip="Perches: saved views, to go to or to fly along; Shift N saves one">
          <Bookmark size={14} />
          {count > 0 && <span>{count}</span>}
        </Button>
      }
    >
      <Suspense>
        <PerchList />
      </Suspense>
    </Popped>
  );
}
