import {
  Box,
  BrickWall,
  ChevronDown,
  Cylinder,
  Footprints,
  Image,
  Layers2,
  MousePointer2,
  PersonStanding,
  Route,
  Shapes,
  Spline,
  TriangleRight,
  Users,
  Wheat,
} from "lucide-react";
import { type Tool, useView } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Menu, MenuItem } from "../ui/menu";

interface Entry<T extends Tool = Tool> {
  tool: T;
  label: string;
  tip: string;
  icon: typeof Box;
}

const LINES: Entry<"figure" | "walk" | "rail" | "course">[] = [
  { tool: "figure", label: "Figure", tip: "Figure: point at where it stands", icon: PersonStanding },
  {
    tool: "walk",
    label: "Walk",
    tip: "Walk: click where the selected figure goes, or draw its way by hand",
    icon: Footprints,
  },
  {
    tool: "rail",
    label: "Rail",
    tip: "Rail: click where the selected camera's rail runs, point by point",
    icon: Spline,
  },
  {
    tool: "course",
    label: "Course",
    tip: "Course: click where the selected mover goes, or draw its way by hand",
    icon: Route,
  },
];

const CROWD: Entry = {
  tool: "crowd",
  label: "Crowd",
  tip: "Crowd: click along the line, or round the area, or draw it by hand",
  icon: Users,
};

const SET: Entry[] = [
  { tool: "box", label: "Box", tip: "Box: drag its footprint, or press for a metre", icon: Box },
  {
    tool: "post",
    label: "Post",
    tip: "Post: press where it stands, or drag from its middle",
    icon: Cylinder,
  },
  { tool: "wall", label: "Wall", tip: "Wall: drag its length, or press for 3 m", icon: BrickWall },
  {
    tool: "platform",
    label: "Platform",
    tip: "Platform or step that figures stand on: drag its footprint",
    icon: Layers2,
  },
  {
    tool: "ramp",
    label: "Ramp",
    tip: "Ramp: drag its footprint; it rises up the sheet",
    icon: TriangleRight,
  },
  { tool: "backdrop", label: "Backdrop", tip: "Backdrop: drag its length, or press for 6 m", icon: Image },
  { tool: "reeds", label: "Reeds", tip: "Reeds: drag their length, or press for 2.5 m", icon: Wheat },
];

const flat = "border-transparent! bg-transparent px-1!";
const take = (tool: Tool) => useView.setState({ tool });

/** What can be put on the plan, and from where it is seen. */
export function Tools() {
  const tool = useView((s) => s.tool);
  const figure = useView((s) => s.kind === "figure");
  const mover = useView((s) => s.kind === "mover");
  const camera = useView((s) => s.kind === "camera" || typeof s.through === "object");
  const seenFrom = useView((s) => s.seenFrom);
  const away = seenFrom !== "above";
  const line = mover ? "course" : camera && !figure ? "rail" : "walk";
  const why = {
    figure: null,
    walk: figure ? null : "Choose a figure first, then draw its walk",
    rail: null,
    course: null,
  };
  const set = SET.find((one) => one.tool === tool);
  const SetIcon = set?.icon ?? Shapes;
  return (
    <div className="flex items-center gap-0.5 px-1 py-1" role="toolbar" aria-label="Staging tools">
      <Button
        tip="Select and drag"
        hint="Esc"
        on={tool === "select"}
        className={`${flat} px-1.5!`}
        onClick={() => useView.setState({ tool: "select" })}
      >
        <MousePointer2 size={15} />
      </Button>
      {/* A figure's walk and a camera's rail share a place: each is for what is chosen. */}
      {LINES.filter(({ tool: name }) => name === "figure" || name === line).map(
        ({ tool: name, label, tip, icon: Icon }) => (
          <Button
            key={name}
            tip={why[name] ?? tip}
            on={tool === name}
            disabled={why[name] !== null || away}
            className={flat}
            onClick={() => take(tool === name ? "select" : name)}
          >
            <Icon size={15} /> {label}
          </Button>
        ),
      )}
      <Menu
        trigger={
          <Button
            title="Set pieces: choose one, then draw it on the plan"
            on={!!set}
            disabled={away}
            className={flat}
          >
            <SetIcon size={15} /> {set?.label ?? "Set"} <ChevronDown size={12} />
          </Button>
        }
      >
        {SET.map(({ tool: name, label, icon: Icon }) => (
          <MenuItem key={name} onSelect={() => take(name)}>
            <Icon size={15} className="mr-1 inline" /> {label}
          </MenuItem>
        ))}
      </Menu>
      <span className="flex-1" />
      <select
        aria-label="The plan is seen"
        title="Seen from above, or as an elevation  (E)"
        className="field w-14 px-0! text-xs"
        value={seenFrom}
        onKeyDown={(e) => e.stopPropagation()}
        onChange={(e) => {
          useView.setState({ seenFrom: e.target.value as typeof seenFrom, tool: "select" });
          e.currentTarget.blur();
        }}
      >
        <option value="above">Above</option>
        <option value="front">Front</option>
        <option value="side">Side</option>
      </select>
    </div>
  );
}

/** What the tool in hand does, and how to put it down; a line that is drawn is ended here, too. */
export function ToolHint({ points, onDone }: { points: number; onDone: () => void }) {
  const tool = useView((s) => s.tool);
  if (tool === "select") return null;
  return (
    <div className="pointer-events-none absolute inset-x-2 top-2 flex items-center justify-center gap-2 rounded bg-slate px-2 py-1 text-xs text-sheet">
      {points === 0 ? (
        <p>{[...LINES, CROWD, ...SET].find((t) => t.tool === tool)?.tip}. Esc puts the tool down.</p>
      ) : (
        <>
          <p>{count(points, "point")}: click on, or</p>
          <button
            type="button"
            className="pointer-events-auto rounded-[3px] bg-sheet px-2 py-0.5 font-semibold text-ink"
            title="The last point is the end  (Enter, or a double-click)"
            onClick={onDone}
          >
            Done
          </button>
        </>
      )}
    </div>
  );
}
