import { Plus } from "lucide-react";
import type { Figure } from "../api/types";
import { useView } from "../store/view";
import { Menu, MenuItem } from "../ui/menu";
import { Lane } from "../ui/strip";
import type { Lane as LaneName } from "../verbs/acts";
import { BEGINS, beginAct, LANE_NAMES, listen, playTrial, stopTrial } from "../verbs/begin-act";
import { LaneActs } from "./act-lanes";

/** One lane of a figure that is open: its name, something to add to it, and what is on it. */
export function OpenLane({ figure, lane }: { figure: Figure; lane: LaneName }) {
  return (
    <Lane
      on
      name={
        <span className="flex w-full items-center gap-1 pl-4">
          <span className="flex-1">{LANE_NAMES[lane]}</span>
          <AddToLane figure={figure} lane={lane} />
        </span>
      }
    >
      <LaneActs figure={figure} lane={lane} />
    </Lane>
  );
}

/** What can be put on a lane at the playhead; what is pointed at in the list is played on the figure meanwhile. */
export function AddToLane({ figure, lane }: { figure: Figure; lane: LaneName }) {
  return (
    <Menu
      onClose={stopTrial}
      trigger={
        <button
          type="button"
          className="shrink-0 text-faint hover:text-ink"
          aria-label={`Add to ${figure.name}'s ${LANE_NAMES[lane].toLowerCase()}`}
          title={`Add something at the playhead; what is pointed at in the list is tried on ${figure.name}`}
        >
          <Plus size={13} />
        </button>
      }
    >
      {BEGINS.filter((begin) => begin.lane === lane).map((begin) => (
        <MenuItem
          key={begin.label}
          onPoint={() => playTrial(figure.id, begin)}
          onSelect={() => beginAct(figure.id, begin)}
        >
          {begin.label}
        </MenuItem>
      ))}
      {lane === "look" && (
        <MenuItem
          note="As long as they talk; what they look at already stays"
          onPoint={stopTrial}
          onSelect={listen}
        >
          Listeners look at who talks
        </MenuItem>
      )}
      {lane === "body" && (
        <MenuItem
          note="Click points on the plan; from 2.2 m/s on it is a run"
          onPoint={stopTrial}
          onSelect={() => useView.setState({ tool: "walk" })}
        >
          Walk
        </MenuItem>
      )}
    </Menu>
  );
}
