import { catalogue } from "../api/catalogue";
import { type Camera, type ChannelSpec, type Command, type Figure, type Mover, POSE } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { lineHue } from "../store/hues";
import { type KeysHere, keysOf } from "../store/keys";
import { rate, useMoment } from "../store/moment";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, scrubStage, select } from "../store/view";
import type { Hand } from "../ui/hold";
import { nudge } from "../ui/nudge";
import { type FrameHeld, useAlong, useFrameHold, visible, xOf } from "../ui/strip";
import { deleteKeys, labelOf, moveKeys } from "../verbs/keys";

/** First and last stage frame of a shot, and its name. */
export type Range = [number, number, string];

const stage = () => useMoment.getState().stage;

/** Tries a command at each frame it is dragged by, and does it where it is let go. */
export const trying = (
  command: (by: number, hand: Hand) => Command,
  press?: (hand: Hand) => void,
  keep: (command: Command) => Promise<unknown> = async (one) => complain(await send(one)),
): FrameHeld => ({
  move: (by, hand) => tryOut(command(by, hand), stage()),
  drop: async (by, hand) => {
    endTry();
    if (by === null) press?.(hand);
    if (by) await keep(command(by, hand));
    else dropOverlay();
  },
  cancel: () => {
    endTry();
    dropOverlay();
  },
});

/** The keys of a thing; of a figure those of one act, by the names of its channels. */
export function KeyDiamonds({
  thing,
  kind,
  only,
}: {
  thing: Camera | Mover | Figure;
  kind: "camera" | "mover" | "figure";
  only?: { names: string[]; chosen: () => void };
}) {
  const along = useAlong();
  const hold = useFrameHold();
  const specs = catalogue.channels[kind];
  const drag = ({ frame, channels }: KeysHere) =>
    hold(() => {
      if (only) only.chosen();
      else select(kind, [thing.id]);
      const command = (by: number) => moveKeys(thing.id, frame, by, channels);
      return trying(command, () => scrubStage(frame));
    });
  return keysOf(thing, only?.names)
    .map((key, index) => ({ key, index }))
    .filter(({ key }) => visible(along, key.frame, key.frame))
    .map(({ key, index }) => (
      <button
        type="button"
        // By its place among the others, so that it keeps the keyboard while it moves.
        key={index}
        aria-label={`Key at ${key.frame}`}
        title={`${keyWords(specs, key)} at ${key.frame}: drag to move in time`}
        className="absolute top-1/2 h-3.5 w-3.5 -translate-y-1/2 cursor-ew-resize"
        style={{ left: xOf(along, key.frame) + along.ppf / 2 - 7 }}
        onKeyDown={(e) => {
          const by = e.ctrlKey || e.metaKey ? undefined : { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          const gone = e.key === "Delete" || e.key === "Backspace";
          if (!by && !gone) return;
          e.preventDefault();
          const far = (by ?? 0) * (e.shiftKey ? Math.round(rate()) : 1);
          if (gone) void send(deleteKeys(thing.id, key.frame, key.channels)).then(complain);
          else
            void nudge(`${thing.id} key ${index}`, [far], async ([sum]) => {
              const { scene } = useDocument.getState();
              const now = itemOf(scene, `${kind}s`, thing.id);
              const here = now && keysOf(now, only?.names)[index];
              return !!here && complain(await send(moveKeys(thing.id, here.frame, sum, here.channels)));
            });
        }}
        {...drag(key)}
        data-key={`${"letter" in thing ? thing.letter : thing.name}-${key.frame}`}
      >
        <svg viewBox="0 0 14 14" aria-hidden="true">
          <path d="M7 0.5 L13.5 7 L7 13.5 L0.5 7 Z" fill="var(--ochre)" stroke="var(--sheet)" />
        </svg>
      </button>
    ));
}

/** What is keyed, as people say it. */
function keyWords(specs: ChannelSpec[] | undefined, key: KeysHere): string {
  const others = key.channels.filter((name) => !(POSE as readonly string[]).includes(name));
  const pose = others.length < key.channels.length ? ["place and direction"] : [];
  return `Key on ${[...pose, ...others.map((name) => labelOf(specs, name))].join(", ")}`;
}

/** Racks of the focus: a line while it turns, a ring where it arrives. */
export function FocusMarks({ camera }: { camera: Camera }) {
  const along = useAlong();
  return camera.focus.marks
    .filter((mark) => visible(along, mark.frame - mark.over, mark.frame))
    .map((mark) => {
      const x = xOf(along, mark.frame) + along.ppf / 2;
      return (
        <button
          type="button"
          key={mark.frame}
          aria-label={`Focus arrives at ${mark.frame}`}
          title={`Focus racks over ${mark.over} frames and arrives at ${mark.frame}`}
          className="absolute top-1/2 h-3.5 -translate-y-1/2"
          style={{ left: x - mark.over * along.ppf, width: mark.over * along.ppf + 6 }}
          onClick={() => scrubStage(mark.frame)}
        >
          <span className="absolute top-1.5 right-1.5 left-0 border-t-2 border-dotted border-ochre" />
          <span className="absolute top-0.5 right-0 h-2.5 w-2.5 rounded-full border-2 border-ochre bg-sheet" />
        </button>
      );
    });
}

export function CoveredRanges({ camera, ranges }: { camera: Camera; ranges: Range[] }) {
  const along = useAlong();
  return ranges
    .filter(([first, last]) => visible(along, first, last))
    .map(([first, last, name]) => (
      <div
        key={name}
        title={`Shot ${name} shows ${first}–${last}`}
        className="absolute top-1/2 h-2 -translate-y-1/2 rounded-full opacity-60"
        style={{
          left: xOf(along, first),
          width: (last - first + 1) * along.ppf,
          background: lineHue(camera.letter),
        }}
      />
    ));
}
