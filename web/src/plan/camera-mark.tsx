import { memo, useMemo, useRef } from "react";
import { KEY } from "../api/samples";
import { type Camera, POSE } from "../api/types";
import { useCurves } from "../store/curves";
import { useDocument } from "../store/document";
import { hue, lineHue, onHue } from "../store/hues";
import { keysOf } from "../store/keys";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { ROVER_ANGLE, roverPlace } from "../store/rover";
import { cameraColumns, rowOf, samplesOf, useVersion } from "../store/samples";
import { useOnAir } from "../store/seen";
import { ahead, headingOf, type Point, toSheet, useSpace } from "../store/space";
import { cameraRow, poseOf, useUnsaved } from "../store/unsaved";
import { lookThrough, select, useView } from "../store/view";
import { carry } from "../verbs/carry";
import { pointOut } from "../verbs/rig";
import { placed } from "./badges";
import { carriedOver, placing } from "./carrying";
import { PathMark } from "./figure-mark";
import type { TakeHold } from "./grab";
import { useLive } from "./live";
import { RigMarks } from "./rig-marks";

const stage = () => useMoment.getState().stage;
const LONG = 9;
const SHORT = 2.6;
const LABEL = {
  fontSize: 12,
  fontWeight: 600,
  fill: "var(--ink)",
  stroke: "var(--sheet)",
  strokeWidth: 3,
  paintOrder: "stroke",
};

/** A camera: its letter, and a wedge of its true horizontal field of view. Body moves it, edge turns it. */
export const CameraMark = memo(function CameraMark({
  camera,
  selected,
  hold,
}: {
  camera: Camera;
  selected: boolean;
  hold: TakeHold;
}) {
  const body = useRef<SVGGElement>(null);
  const said = useRef<SVGTextElement>(null);
  const fill = useRef<SVGPathElement>(null);
  const drawn = useRef<{ row?: Float32Array; space?: object; selected?: boolean }>({});
  const band = useRef<SVGPathElement>(null);
  const tie = useRef<SVGPathElement>(null);
  const edges = useRef<(SVGLineElement | null)[]>([]);
  const grips = useRef<(SVGLineElement | null)[]>([]);
  const unsaved = useUnsaved((s) => s.unsaved?.camera === camera.id);
  const colour = hue(camera.letter);
  const line = lineHue(camera.letter);
  const air = useOnAir() === camera.id;
  useLive(() => {
    const row = cameraRow(camera.id, stage());
    if (!row) return;
    const space = useSpace.getState();
    const was = drawn.current;
    if (alike(was.row, row) && was.space === space && was.selected === selected) return;
    drawn.current = { row, space, selected };
    const of = cameraColumns();
    const [x, y] = toSheet(space, row[of.x], row[of.z]);
    const shown = useDocument.getState().shown;
    const [bx, by] = (shown && placed(shown, stage(), space).letters.get(camera.id)) ?? [x, y];
    body.current?.setAttribute("transform", `translate(${bx} ${by})`);
    const [ax, ay] = (shown && placed(shown, stage(), space).airs.get(camera.id)) ?? [0, 23];
    said.current?.setAttribute("transform", `translate(${ax} ${ay + 4})`);
    // A letter that was moved aside is tied to where its camera is.
    tie.current?.setAttribute("d", bx === x && by === y ? "" : `M${bx} ${by} L${x} ${y}`);
    const reach = (selected ? LONG : SHORT) * space.scale;
    const ends = [1, -1].map((side) => {
      const [ax, ay] = ahead(row[of.pan] + (side * row[of.horizontal_deg]) / 2);
      return [x + ax * reach, y + ay * reach];
    });
    fill.current?.setAttribute("d", `M${x} ${y} L${ends[0]} A${reach} ${reach} 0 0 1 ${ends[1]} Z`);
    band.current?.setAttribute("d", selected ? inFocus(row, x, y, reach, space.scale) : "");
    ends.forEach(([ex, ey], i) => {
      for (const line of [edges.current[i], grips.current[i]]) {
        line?.setAttribute("x1", String(x));
        line?.setAttribute("y1", String(y));
        line?.setAttribute("x2", String(ex));
        line?.setAttribute("y2", String(ey));
      }
    });
  }, camera.id);
  const carrying = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select") return null;
    if (useView.getState().picking) return { drop: () => pointOut({ kind: "camera", camera: camera.id }) };
    return carriedOver(carry("camera", camera.id), from, () => select("camera", [camera.id]));
  });
  const turn = hold((from, e) => {
    if (e.button !== 0 || useView.getState().tool !== "select") return null;
    const start = poseOf(camera.id, stage());
    const turned = (at: Point, free: boolean) => {
      if (!start) return null;
      const was = headingOf(from[0] - start.x, from[1] - start.z);
      const delta = headingOf(at[0] - start.x, at[1] - start.z) - was;
      const pan = start.pan + ((((delta + 180) % 360) + 360) % 360) - 180;
      return { pan: Math.round(pan * (free ? 100 : 2)) / (free ? 100 : 2) };
    };
    const pick = () => select("camera", [camera.id]);
    return placing(camera.id, turned, { pick, click: pick });
  });
  return (
    <g data-camera={camera.letter}>
      <path
        ref={band}
        data-band={camera.letter}
        fill={line}
        fillOpacity={0.3}
        stroke={line}
        strokeWidth={1.2}
        pointerEvents="none"
      />
      {camera.layers.length > 0 && <RigMarks camera={camera} selected={selected} />}
      <path ref={fill} fill={line} fillOpacity={selected ? 0.13 : 0.09} pointerEvents="none" />
      {[0, 1].map((i) => (
        <g key={i}>
          <line
            ref={(el) => {
              edges.current[i] = el;
            }}
            stroke={line}
            strokeWidth={selected ? 1.8 : 1}
            strokeDasharray={unsaved ? "5 4" : undefined}
            pointerEvents="none"
          />
          <line
            ref={(el) => {
              grips.current[i] = el;
            }}
            data-edge={camera.letter}
            stroke="transparent"
            strokeWidth={10}
            className="cursor-grab"
            {...turn}
          >
            <title>Drag to turn camera {camera.letter}</title>
          </line>
        </g>
      ))}
      <path ref={tie} stroke={line} strokeWidth={1.5} pointerEvents="none" />
      <g
        ref={body}
        {...carrying}
        onDoubleClick={() => lookThrough({ camera: camera.id })}
        className="cursor-move"
      >
        <title>
          {camera.letter} {camera.name}: drag to move, double-click to look through
        </title>
        {air && (
          <g data-air={camera.letter}>
            <rect
              x={-15}
              y={-15}
              width={30}
              height={30}
              rx={6}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={2.4}
            />
          </g>
        )}
        <text ref={said} textAnchor="middle" {...LABEL} display={air ? undefined : "none"}>
          on air
        </text>
        <rect
          x={-10}
          y={-10}
          width={20}
          height={20}
          rx={3}
          fill={colour}
          stroke={selected ? "var(--slate)" : "var(--sheet)"}
          strokeWidth={selected ? 3 : 1.5}
        />
        <text textAnchor="middle" y={4.6} fontSize={13} fontWeight={600} fill={onHue(camera.letter)}>
          {camera.letter}
        </text>
        {camera.locked && (
          <text x={13} y={-6} fontSize={12} fill="var(--faint)">
            locked
          </text>
        )}
      </g>
    </g>
  );
});

/** Whether two rows say the same: what a try brings again need not be another place. */
const alike = (a: Float32Array | undefined, b: Float32Array): boolean =>
  a === b || (a?.length === b.length && a.every((value, i) => value === b[i]));

/** What is sharp, across the wedge: from its near plane to its far one, or to the wedge's end. */
function inFocus(row: Float32Array, x: number, y: number, reach: number, scale: number): string {
  const at = cameraColumns();
  const [nearPer, farPer] = [row[at.band_near_per_m], row[at.band_far_per_m]];
  const half = (row[at.horizontal_deg] * Math.PI) / 360;
  const near = scale / Math.max(nearPer, 1e-6);
  const far = Math.min(farPer > 1e-6 ? scale / farPer : reach, reach * Math.cos(half));
  if (near >= far) return "";
  const [ax, ay] = ahead(row[at.pan]);
  const corner = (deep: number, side: number) => {
    const wide = side * deep * Math.tan(half);
    return `${x + ax * deep + ay * wide} ${y + ay * deep - ax * wide}`;
  };
  return `M${corner(near, 1)} L${corner(near, -1)} L${corner(far, -1)} L${corner(far, 1)} Z`;
}

/** The camera's own path with its frame ticks, and its keys when it is selected. */
export const CameraPathMark = memo(function CameraPathMark({
  camera,
  selected,
}: {
  camera: Camera;
  selected: boolean;
}) {
  // As one text, so that keys which only change their value draw nothing again.
  const keys = useMemo(() => framesOfKeys(camera), [camera]);
  const ghosts = usePreferences((s) => s.ghosts);
  // What moves by keys, and, chosen, what a layer carries.
  const goes = keys.includes(" ") || (selected && camera.layers.some((layer) => !layer.off));
  return (
    <>
      {selected && ghosts > 0 && <Ghosts camera={camera} every={ghosts} />}
      {goes && <PathMark thing={camera.id} colour={lineHue(camera.letter)} strong={selected} />}
      {selected && <PathHandles camera={camera} />}
      {keys && selected && <KeyMarks thing={camera.id} keys={keys} />}
    </>
  );
});

/** The camera as it stands every so many frames of its way: its lens and the two edges of what it sees. */
function Ghosts({ camera, every }: { camera: Camera; every: number }) {
  const space = useSpace();
  useVersion(camera.id);
  const samples = samplesOf(camera.id);
  const of = cameraColumns();
  if (!samples) return null;
  const reach = 1.1 * space.scale;
  const shown: { frame: number; x: number; y: number; d: string }[] = [];
  let last: [number, number, number] | null = null;
  for (let frame = samples.first; frame <= samples.last; frame += every) {
    const row = rowOf(camera.id, frame);
    if (!row) continue;
    const [x, y] = toSheet(space, row[of.x], row[of.z]);
    const pan = row[of.pan];
    // Where it stands it would be drawn over itself.
    if (last && Math.hypot(x - last[0], y - last[1]) < 4 && Math.abs(pan - last[2]) < 2) continue;
    last = [x, y, pan];
    const edges = [1, -1].map((side) => {
      const [ax, ay] = ahead(pan + (side * row[of.horizontal_deg]) / 2);
      return `${x + ax * reach} ${y + ay * reach}`;
    });
    shown.push({ frame, x, y, d: `M${edges[0]} L${x} ${y} L${edges[1]}` });
  }
  if (shown.length < 2) return null;
  return (
    <g pointerEvents="none" opacity={0.55} data-ghosts={shown.length}>
      {shown.map(({ frame, x, y, d }) => (
        <g key={frame}>
          <path d={d} fill="none" stroke={lineHue(camera.letter)} strokeWidth={1} />
          <rect x={x - 3} y={y - 3} width={6} height={6} fill={lineHue(camera.letter)} />
        </g>
      ))}
    </g>
  );
}

/** The handles of shaped keys of place, as they lie over the floor; known while the curves are open. */
function PathHandles({ camera }: { camera: Camera }) {
  const space = useSpace();
  const { thing, curves } = useCurves();
  if (thing !== camera.id || !curves.x || !curves.z) return null;
  const across = handlesBy(curves.x.keys);
  const along = handlesBy(curves.z.keys);
  const others = new Map(camera.z.keys.map((key) => [key.frame, key]));
  return camera.x.keys.flatMap((key) => {
    const [a, b] = [across.get(key.frame), along.get(key.frame)];
    const other = others.get(key.frame);
    if (!a || !b || !other) return [];
    const from = toSheet(space, a.value, b.value);
    return (["back", "out"] as const).flatMap((side) => {
      const shaped = side === "back" ? [key.before, other.before] : [key.after, other.after];
      if (!shaped.includes("shaped")) return [];
      const to = toSheet(space, a.value + a[side], b.value + b[side]);
      return [
        <g key={`${key.frame}${side}`} pointerEvents="none" data-path-handle={key.frame}>
          <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} stroke="var(--ochre)" />
          <circle cx={to[0]} cy={to[1]} r={3} fill="var(--sheet)" stroke="var(--ochre)" />
        </g>,
      ];
    });
  });
}

/** A drawn curve's values and the rise of its handles, by frame. */
function handlesBy(keys: Float32Array): Map<number, { value: number; back: number; out: number }> {
  const found = new Map<number, { value: number; back: number; out: number }>();
  for (let i = 0; i < keys.length; i += KEY.size)
    found.set(keys[i], { value: keys[i + KEY.value], back: keys[i + KEY.backY], out: keys[i + KEY.outY] });
  return found;
}

/** The frames of a camera's keys on its pose. */
const framesOfKeys = (camera: Camera): string =>
  keysOf(camera, POSE)
    .map((key) => key.frame)
    .join(" ");

/** Diamonds where the camera is at its keys, whichever of its channels they are on: one shape, for there may be thousands. */
const KeyMarks = memo(function KeyMarks({ thing, keys }: { thing: string; keys: string }) {
  const space = useSpace();
  useVersion(thing);
  const of = cameraColumns();
  const drawn = new Set<string>();
  const marks = keys.split(" ").flatMap((frame) => {
    const row = rowOf(thing, Number(frame));
    if (!row) return [];
    const [x, y] = toSheet(space, row[of.x], row[of.z]).map(Math.round);
    // On each other they are drawn once.
    const at = `M${x} ${y - 6} l6 6 l-6 6 l-6 -6 Z`;
    if (drawn.has(at)) return [];
    drawn.add(at);
    return [at];
  });
  return (
    <path
      d={marks.join(" ")}
      fill="var(--ochre)"
      stroke="var(--sheet)"
      pointerEvents="none"
      data-key-marks={marks.length}
    />
  );
});

/** Where the rover is, to keep one's bearings. */
export function RoverMark({ hold }: { hold: TakeHold }) {
  const rover = useView((s) => s.rover);
  const on = useView((s) => s.through === "rover");
  const space = useSpace();
  const at = roverPlace(rover);
  const [x, y] = toSheet(space, at.x, at.z);
  const reach = 1.6 * space.scale;
  const ends = [1, -1].map((side) => {
    const [ax, ay] = ahead(rover.bearing + (side * ROVER_ANGLE * 1.6) / 2);
    return `${x + ax * reach} ${y + ay * reach}`;
  });
  const carrying = hold((from, e) => {
    if (e.button !== 0) return null;
    const start = useView.getState().rover;
    return {
      move: (p) =>
        useView.setState({ rover: { ...start, x: start.x + p[0] - from[0], z: start.z + p[1] - from[1] } }),
      drop: (_, moved) => {
        if (!moved) lookThrough("rover");
      },
    };
  });
  return (
    <g opacity={on ? 1 : 0.45} {...carrying} className="cursor-move" data-testid="rover-mark">
      <title>The rover: drag to move it, click to look through it</title>
      <path d={`M${ends[0]} L${x} ${y} L${ends[1]}`} fill="none" stroke="var(--ink)" strokeDasharray="3 3" />
      <circle cx={x} cy={y} r={6} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.6} />
    </g>
  );
}
