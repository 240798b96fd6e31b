import { Eye, EyeOff } from "lucide-react";
import type { ChannelSpec } from "../api/types";
import { useCurves } from "../store/curves";
import { useKeysPicked } from "../store/picked";
import { useView } from "../store/view";
import { NAMES } from "../ui/strip";
import { curveDash, curveHue } from "./hues";
import { ROW } from "./lay";
import type { Shown } from "./lines";

/** A channel's label, with the part it belongs to. */
export const labelled = (spec: ChannelSpec, parts: Record<string, string>): string => {
  const part = parts[spec.name.split(".")[0]];
  return spec.name.includes(".") && part ? `${part}: ${spec.label.toLowerCase()}` : spec.label;
};

/** Curves that are looked at together. */
const GROUPS: { label: string; says: string; has: ((spec: ChannelSpec) => boolean) | null }[] = [
  { label: "Keyed", says: "Every curve that has keys", has: null },
  { label: "Place", says: "Where it is", has: (s) => s.group === "pose" && s.measure === "metres" },
  { label: "Turn", says: "Where it looks", has: (s) => s.group === "pose" && s.measure === "degrees" },
  {
    label: "Glass",
    says: "Lens, exposure and focus",
    has: (s) => ["lens", "exposure", "focus"].includes(s.group),
  },
];

/** The channels there are: those whose curves are shown, and those that could be. */
export function ChannelList({ shown, rows }: { shown: Shown; rows: boolean }) {
  const { specs, parts, idle } = useCurves();
  const dim = useView((s) => s.dim);
  const top = useKeysPicked((s) => s.top);
  const keyed = (spec: ChannelSpec) => shown.stored[spec.name].keys.length > 0;
  const all = specs.filter((spec) => spec.name in shown.stored && (keyed(spec) || !idle.includes(spec.name)));
  // What has keys stands first.
  const there = [...all.filter(keyed), ...all.filter((spec) => !keyed(spec))];
  const listed = rows ? there.filter((spec) => shown.names.includes(spec.name)) : there;
  const on = (name: string) => shown.names.includes(name);
  const toggle = (name: string) => {
    const now = on(name) ? shown.names.filter((n) => n !== name) : [...shown.names, name];
    useKeysPicked.setState((s) => ({
      shown: now,
      active: on(name) ? s.active : name,
      picked: on(name) ? Object.fromEntries(Object.entries(s.picked).filter(([n]) => n !== name)) : s.picked,
    }));
  };
  return (
    <div
      className={`shrink-0 border-r border-line ${rows ? "overflow-hidden" : "overflow-x-hidden overflow-y-auto"}`}
      style={{ width: NAMES }}
      role="group"
      aria-label="Channels"
    >
      {!rows && (
        <div
          className="sticky top-0 z-1 flex divide-x divide-line border-b border-line bg-paper text-xs"
          role="presentation"
        >
          {GROUPS.map(({ label, says, has }) => {
            const names = there.filter((spec) => (has ? has(spec) : keyed(spec))).map((spec) => spec.name);
            return (
              <button
                type="button"
                key={label}
                title={says}
                disabled={names.length === 0}
                className="flex-auto py-0.5 text-faint hover:bg-well hover:text-ink disabled:opacity-40"
                onClick={() =>
                  useKeysPicked.setState({ shown: has ? names : null, picked: {}, active: names[0] ?? null })
                }
              >
                {label}
              </button>
            );
          })}
        </div>
      )}
      <div style={rows ? { transform: `translateY(${-top}px)` } : undefined}>
        {listed.map((spec) => {
          const name = spec.name;
          const active = name === shown.active;
          return (
            <div
              key={name}
              className={`flex items-center gap-1 pr-1 text-xs ${active ? "bg-slate-wash font-semibold" : ""} ${on(name) ? "" : "text-faint"}`}
              style={{ height: ROW }}
              data-channel={name}
            >
              <button
                type="button"
                className="flex min-w-0 flex-1 items-center gap-1.5 pl-1.5 text-left"
                aria-pressed={active}
                title={`${labelled(spec, parts)}${spec.unit && ` in ${spec.unit === "°" ? "degrees" : spec.unit}`}${keyed(spec) ? "" : ": no keys yet"}`}
                onClick={(e) => {
                  if (e.shiftKey || e.ctrlKey) return toggle(name);
                  useKeysPicked.setState((s) => ({
                    active: name,
                    shown: on(name) ? s.shown : [...shown.names, name],
                  }));
                }}
                onDoubleClick={() => useKeysPicked.setState({ shown: [name], active: name })}
              >
                <svg width="18" height="8" aria-hidden="true" className="shrink-0">
                  <path
                    d="M1 4 H17"
                    stroke={on(name) ? curveHue(specs.indexOf(spec), dim) : "var(--line)"}
                    strokeWidth={active ? 2.5 : 1.8}
                    strokeDasharray={curveDash(spec).join(" ")}
                  />
                </svg>
                <span className="truncate">{labelled(spec, parts)}</span>
                {keyed(spec) && !on(name) && <span className="text-ochre">◆</span>}
              </button>
              {!rows && (
                <button
                  type="button"
                  aria-label={`${on(name) ? "Hide" : "Show"} ${labelled(spec, parts)}`}
                  title={on(name) ? "Hide this curve" : "Show this curve"}
                  onClick={() => toggle(name)}
                >
                  {on(name) ? <Eye size={12} /> : <EyeOff size={12} />}
                </button>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}
