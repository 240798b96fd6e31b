import {
  Box,
  BrickWall,
  Cylinder,
  Footprints,
  Image,
  Layers2,
  MousePointer2,
  PersonStanding,
  Spline,
  TriangleRight,
  Wheat,
} from "lucide-react";
import { type Tool, useView } from "../store/view";
import { Button } from "../ui/button";

const TOOLS: { tool: Tool; label: string; tip: string; icon: typeof Box }[] = [
  { tool: "figure", label: "Figure", tip: "Figure: point at where it stands", icon: PersonStanding },
  {
    tool: "walk",
    label: "Walk",
    tip: "Walk: click points for the selected figure; double-click ends",
    icon: Footprints,
  },
  {
    tool: "rail",
    label: "Rail",
    tip: "Rail: click points for the selected camera; double-click ends",
    icon: Spline,
  },
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

/** What can be put on the plan, and from where it is seen. */
export function Tools() {
  const tool = useView((s) => s.tool);
  const figure = useView((s) => s.kind === "figure");
  const camera = useView((s) => s.kind === "camera" || typeof s.through === "object");
  const seenFrom = useView((s) => s.seenFrom);
  const flat = "border-transparent! bg-transparent px-0! w-[25px]";
  return (
    <div className="flex flex-wrap items-center px-1 py-1" role="toolbar" aria-label="Staging tools">
      <Button
        tip="Select and drag"
        hint="Esc"
        on={tool === "select"}
        className="w-[25px] border-transparent! px-0!"
        onClick={() => useView.setState({ tool: "select" })}
      >
        <MousePointer2 size={15} />
      </Button>
      {/* A figure's walk and a camera's rail share a place: each is for what is chosen. */}
      {TOOLS.filter(({ tool: name }) => name !== (camera && !figure ? "walk" : "rail")).map(
        ({ tool: name, label, tip, icon: Icon }) => (
          <Button
            key={name}
            tip={
              name === "walk" && !figure
                ? "Choose a figure first, then draw its walk"
                : name === "rail" && !camera
                  ? "Choose a camera first, then draw its rail"
                  : tip
            }
            on={tool === name}
            aria-label={label}
            disabled={(name === "walk" && !figure) || (name === "rail" && !camera) || seenFrom !== "above"}
            className={flat}
            onClick={() => useView.setState({ tool: tool === name ? "select" : name })}
          >
            <Icon size={16} />
          </Button>
        ),
      )}
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

/** What the tool in hand does, and how to put it down. */
export function ToolHint() {
  const tool = useView((s) => s.tool);
  if (tool === "select") return null;
  return (
    <p className="pointer-events-none absolute inset-x-2 top-2 rounded bg-slate px-2 py-1 text-center text-xs text-sheet">
      {TOOLS.find((t) => t.tool === tool)?.tip}. Esc puts the tool down.
    </p>
  );
}
