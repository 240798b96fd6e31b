import { useQuery } from "@tanstack/react-query";
import { Clapperboard } from "lucide-react";
import { toggleSide, useView } from "../store/view";
import { Button } from "../ui/button";
import { jobs, underWay } from "./asking";

/** What is being rendered, how far it is, and the way to it. */
export function JobsButton() {
  const open = useView((s) => s.side === "jobs");
  const { data } = useQuery(jobs);
  const going = data?.filter(underWay) ?? [];
  const share =
    going.reduce((sum, t) => sum + t.done, 0) /
    Math.max(
      going.reduce((sum, t) => sum + t.frames, 0),
      1,
    );
  return (
    <Button
      tip="Render the cut, see what is being rendered, open takes"
      on={open}
      onClick={() => toggleSide("jobs")}
    >
      <Clapperboard size={15} /> Dailies
      {going.length > 0 && <span className="tabular-nums">{Math.floor(share * 100)} %</span>}
    </Button>
  );
}
