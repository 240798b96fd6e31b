import type { Edges, Shot } from "../api/types";
import { useShotPicture } from "../picture/shot-pictures";
import { itemOf, useDocument } from "../store/document";
import { hue } from "../store/hues";
import { rate } from "../store/moment";
import { send } from "../store/sending";
import { complain, scrubCut, select, selectAlso, useView } from "../store/view";
import { Letter } from "../ui/badge";
import type { Hand } from "../ui/hold";
import { useAlong, useFrameHold, xOf } from "../ui/strip";
import { takesBoard } from "../verbs/boards";
import { duplicateShots, nudgeEdit } from "../verbs/cutting";
import { besides, dragEdges, edgeOf } from "./edit-drag";
import { Fades } from "./fades";
import { cutSpots, stageSpots } from "./snaps";
import { focusShot, goTo, goToJoint } from "./walk";

export type Placed = { id: string; cut_first: number; cut_last: number; step?: number | null };

/** The shots that an edit of one is for: all that are selected with it. */
export function meantWith(shot: Shot): string[] {
  const { kind, ids } = useView.getState();
  return kind === "shot" && ids.includes(shot.id) ? ids : [shot.id];
}

/** The keyboard on a shot: along the shots, its ends, and its place in the cut. */
function shotKey(e: React.KeyboardEvent, shot: Shot, order: Placed[]): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const at = order.findIndex((p) => p.id === shot.id);
  const shots = useDocument.getState().scene?.shots ?? [];
  const end = { Home: order[0], End: order.at(-1) }[e.key];
  const ctrl = e.ctrlKey || e.metaKey;
  const slips = ctrl ? undefined : { a: -1, d: 1 }[e.key.toLowerCase()];
  const meant = meantWith(shot);
  if ((e.key === "Enter" || e.key === " ") && ctrl) selectAlso("shot", shot.id);
  else if (e.key === "Enter" || e.key === " ") select("shot", [shot.id]);
  else if (end) goTo(shots.find((s) => s.id === end.id));
  else if (e.key === "ArrowDown") goToJoint(shot.id);
  else if (slips)
    void nudgeEdit(
      { edit: e.altKey ? "slide" : "slip", shots: meant },
      slips * (e.shiftKey ? Math.round(rate()) : 1),
    );
  else if (!by) return;
  else if (ctrl && e.shiftKey) {
    const next = shots.find((s) => s.id === order[at + by]?.id);
    if (next && !meant.includes(next.id)) select("shot", [...meant, next.id]);
    focusShot(next);
  } else if (e.shiftKey && e.altKey) {
    const after = order[at + 1];
    if (after) void nudgeEdit({ edit: "roll", shots: [after.id] }, by);
  } else if (e.shiftKey) void nudgeEdit({ edit: "trim_out", shots: meant }, by);
  else if (e.altKey) void nudgeEdit({ edit: "trim_in", shots: meant }, by);
  else if (ctrl) {
    const others = order.filter((p) => !meant.includes(p.id));
    const place = order.findIndex((p) => meant.includes(p.id));
    const before = others[place + by]?.id ?? null;
    if (place + by >= 0 && place + by <= others.length)
      void send({ kind: "cut.edit", do: { edit: "move", shots: meant, before } }).then(complain);
  } else {
    goTo(shots.find((s) => s.id === order[at + by]?.id));
  }
  e.preventDefault();
}

/** From this width a shot has room for a picture beside its words, and how wide that is, pixels. */
const SHOWS_PICTURE = 168;
const PICTURE = 73;

const TRIM =
  "Drag to trim: the rest of the cut follows. Shift rolls the cut; Ctrl leaves the rest where it is, Ctrl Shift goes on into the shot beside it; Alt does not snap.";

/** A shot on the strip: carried, slipped, slid, trimmed at its ends. */
export function ShotBlock({
  shot,
  placed,
  order,
  low,
  stop,
  onCarry,
}: {
  shot: Shot;
  placed: Placed;
  order: Placed[];
  /** All on one line. */
  low: boolean;
  /** The one of the shots that Tab comes to. */
  stop: boolean;
  onCarry: (x: number | null) => void;
}) {
  const along = useAlong();
  const camera = useDocument((s) => itemOf(s.shown, "cameras", shot.camera));
  const selected = useView((s) => s.kind === "shot" && s.ids.includes(shot.id));
  const length = placed.cut_last - placed.cut_first + 1;
  const width = length * along.ppf;
  const hold = useFrameHold();

  const trim = (end: "first" | "last") =>
    hold(() => {
      const meant = meantWith(shot);
      if (meant.length === 1) select("shot", [shot.id]);
      const { before, after, touchesBefore, touchesAfter } = besides(shot);
      const head = end === "first";
      const rolls = (hand: Hand) => hand.shift && !hand.ctrl && (head ? touchesBefore : touchesAfter);
      const at = head ? placed.cut_first : placed.cut_last + 1;
      const edit = (hand: Hand): Edges =>
        rolls(hand)
          ? { edit: "roll", shots: [head ? shot.id : (after as Shot).id] }
          : {
              edit: head ? "trim_in" : "trim_out",
              shots: meant,
              leaving: hand.ctrl && !hand.shift,
              overwriting: hand.ctrl && hand.shift,
            };
      return dragEdges(
        {
          edit,
          at,
          spots: (hand) => [
            { from: head ? shot.stage.first : shot.stage.last + 1, spots: stageSpots(shot) },
            // The head of a shot that the cut follows stays where it is on the strip.
            ...(head && !hand.ctrl && !rolls(hand) ? [] : [{ from: at, spots: cutSpots([shot.id]) }]),
          ],
          edges: (by, hand) =>
            head
              ? [
                  ...edgeOf(touchesBefore ? before : null, "last", rolls(hand) ? by : 0),
                  ...edgeOf(shot, "first", by),
                ]
              : [
                  ...edgeOf(shot, "last", by),
                  ...edgeOf(touchesAfter ? after : null, "first", rolls(hand) ? by : 0),
                ],
        },
        along.ppf,
      );
    });

  const carry = hold((e) => {
    const meant = meantWith(shot);
    const { before, after } = besides(shot);
    if (e.ctrlKey || e.shiftKey) {
      const edit = e.ctrlKey ? "slip" : "slide";
      const drag = dragEdges(
        {
          edit: () => ({ edit, shots: meant }),
          at: placed.cut_first,
          spots: () =>
            edit === "slip"
              ? [
                  { from: shot.stage.first, spots: stageSpots(shot) },
                  { from: shot.stage.last + 1, spots: stageSpots(shot) },
                ]
              : [
                  { from: placed.cut_first, spots: cutSpots(meant) },
                  { from: placed.cut_last + 1, spots: cutSpots(meant) },
                ],
          edges: (by) =>
            edit === "slip"
              ? [...edgeOf(shot, "first", by), ...edgeOf(shot, "last", by)]
              : [...edgeOf(before, "last", by), ...edgeOf(after, "first", by)],
        },
        along.ppf,
      );
      // A mere press adds to what is selected, or takes all up to here.
      const press = () => {
        drag.cancel();
        if (edit === "slip") return selectAlso("shot", shot.id);
        const first = order.findIndex((p) => p.id === useView.getState().ids[0]);
        const last = order.indexOf(placed);
        const some = order.slice(Math.min(first < 0 ? last : first, last), Math.max(first, last) + 1);
        const ids = some.map((p) => p.id);
        select("shot", first > last ? ids.reverse() : ids);
      };
      return {
        ...drag,
        drop: (by: number | null, hand: Hand) => (by === null ? press() : void drag.drop(by, hand)),
      };
    }
    const others = order.filter((p) => !meant.includes(p.id));
    const joint = (by: number) => {
      const middle = (placed.cut_first + placed.cut_last) / 2 + by;
      return others.filter((p) => (p.cut_first + p.cut_last) / 2 < middle).length;
    };
    return {
      // The mark stands at the joint it would be dropped into.
      move: (by) => {
        const to = joint(by);
        const frame = others[to]?.cut_first ?? (others[to - 1]?.cut_last ?? -1) + 1;
        onCarry(xOf(along, frame));
      },
      drop: async (by, hand) => {
        onCarry(null);
        if (by === null) return select("shot", [shot.id]);
        const to = joint(by);
        const before = others[to]?.id ?? null;
        if (hand.alt) return void (await duplicateShots(meant, before));
        if (to !== order.findIndex((p) => meant.includes(p.id)))
          complain(await send({ kind: "cut.edit", do: { edit: "move", shots: meant, before } }));
      },
      cancel: () => onCarry(null),
    };
  });

  const lens = camera && camera.focal.keys.length === 0 ? ` · ${camera.focal.rest} mm` : "";
  const span = (
    <span className="text-xs whitespace-nowrap text-faint">
      {camera ? `${shot.stage.first}–${shot.stage.last} · ` : "slate · "}
      {length} f{width > 180 && !low && lens}
    </span>
  );
  const picture = useShotPicture(low || width < SHOWS_PICTURE ? undefined : shot);
  // A dissolve into it lies over its first frames.
  const mixed = (shot.dissolve?.[1] ?? 0) * along.ppf;
  const room = picture ? { marginRight: PICTURE } : undefined;
  const others = shot.versions.length;
  const what = camera
    ? `${camera.letter} ${camera.name}, stage ${shot.stage.first}–${shot.stage.last}`
    : `a slate of ${length} frames, no camera yet`;
  return (
    <div
      className={`absolute ${low ? "inset-y-0.5" : "inset-y-1"} isolate overflow-hidden rounded-[3px] border ${camera ? "bg-sheet" : "bg-well"} ${selected ? "border-slate ring-2 ring-slate" : camera ? "border-ink/50" : "border-dashed border-ink/50"}`}
      style={{ left: xOf(along, placed.cut_first), width: Math.max(width - 1, 2) }}
      data-shot={shot.name}
      role="button"
      tabIndex={stop ? 0 : -1}
      data-region-start={stop || undefined}
      aria-pressed={selected}
      onKeyDown={(e) => shotKey(e, shot, order)}
      title={`Shot ${shot.name}: ${what}. Drag to another place, with Alt a copy; Ctrl slips what it shows (A, D), Shift slides it between its neighbours (Alt A, D). Down goes to the cut before it.`}
      {...carry}
      {...takesBoard(shot.id)}
      onDoubleClick={() => scrubCut(placed.cut_first)}
    >
      <div className="h-1" style={{ background: camera ? hue(camera.letter) : "transparent" }} />
      {picture && (
        <img
          src={picture}
          alt=""
          draggable={false}
          className="absolute top-1 right-0 bottom-0 h-[calc(100%-4px)] object-cover"
          style={{ width: PICTURE }}
          data-testid="shot-picture"
        />
      )}
      <div
        className={`flex items-center gap-1.5 px-2 text-sm leading-5 whitespace-nowrap ${low ? "" : "pt-0.5"}`}
        style={room}
      >
        <b>{shot.name}</b>
        {width > 60 && camera && <Letter letter={camera.letter} size={18} />}
        {width > 96 && others > 0 && (
          <span
            className="rounded border border-line px-1 text-xs"
            title={`${others + 1} versions; ${shot.version || "the first"} is chosen`}
          >
            {others + 1} v
          </span>
        )}
        {width > 110 && shot.own.length > 0 && (
          <span
            className="rounded bg-ochre/25 px-1 text-xs"
            title={`${shot.own.length} thing${shot.own.length > 1 ? "s" : ""} otherwise for this shot alone; its card lists them`}
          >
            {shot.own.length} own
          </span>
        )}
        {width > 130 && <span className="truncate text-xs">{camera?.name ?? shot.note}</span>}
        {low && width > 250 && span}
      </div>
      {!low && width > 90 && (
        <div className="overflow-hidden px-2 text-xs leading-4" style={{ ...room, marginLeft: mixed }}>
          {span}
        </div>
      )}
      {(["first", "last"] as const).map((end) => (
        <div
          key={end}
          className={`absolute inset-y-0 w-2 hover:bg-slate/40 ${end === "first" ? "left-0 cursor-w-resize" : "right-0 cursor-e-resize"}`}
          title={TRIM}
          {...trim(end)}
          data-trim={`${shot.name}-${end}`}
        />
      ))}
      <Fades shot={shot} placed={placed} selected={selected} />
    </div>
  );
}
