import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { headsIn } from "../api/queries";
import type { Camera, Does, HeadInFrame } from "../api/types";
import { pin, toggleComposing, unpin, useComposing } from "../store/composing";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useSeenCamera } from "../store/seen";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { useHold } from "../ui/hold";
import { nudge } from "../ui/nudge";

/** Pixels of a grip's way that make somebody twice as large; and by how much a step of the wheel or a key does. */
const TWICE_PX = 120;
const STEP = 1.05;
/** Farther outside the frame than this a head has no mark. */
const REACH = 1.15;
const LINES = [-1 / 3, 1 / 3];

const percent = (share: number) => `${50 + 50 * share}%`;
const within = (at: number) => Math.min(Math.max(at, -0.97), 0.97);
const round = (n: number) => Math.round(n * 10000) / 10000;

/** Rings on the heads of a camera's frame: dragged to where they should sit, and made larger or smaller. */
export function Composing() {
  const on = useComposing((s) => s.on);
  const camera = useSeenCamera();
  const playing = useMoment((s) => s.playing);
  if (!on || !camera || playing || camera.locked) return null;
  return <Heads camera={camera} />;
}

function useHeads(camera: Camera | null): HeadInFrame[] {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const stage = useMoment((s) => s.stage);
  const { data } = useQuery({
    ...headsIn(id, camera?.id ?? "", stage, revision),
    enabled: camera !== null,
    placeholderData: (was) => was,
  });
  return useMemo(
    () => data?.filter((one) => Math.abs(one.x) < REACH && Math.abs(one.y) < REACH) ?? [],
    [data],
  );
}

function Heads({ camera }: { camera: Camera }) {
  const heads = useHeads(camera);
  const pinned = useComposing((s) => s.pinned);
  const stage = useMoment((s) => s.stage);
  const [held, setHeld] = useState<{ figure: string; x: number; y: number } | null>(null);
  // What was let go stays where it was put until the core says where it is.
  // biome-ignore lint/correctness/useExhaustiveDependencies: new places are the reason to run
  useEffect(() => setHeld(null), [heads]);
  const command = (head: HeadInFrame, x: number, y: number, share?: number): Does<"camera.compose"> => {
    const others = heads.filter((one) => one.figure !== head.figure && pinned.includes(one.figure)).slice(-1);
    const put = [{ ...head, x, y }, ...others].map((one) => ({
      on: { kind: "figure" as const, figure: one.figure, joint: "eyes" },
      x: round(within(one.x)),
      y: round(within(one.y)),
    }));
    return {
      kind: "camera.compose", camera: camera.id, frame: stage, put,
      size: share === undefined ? null : { figure: head.figure, share: round(share) },
    } as Does<"camera.compose">; // biome-ignore format: one look
  };
  return (
    <div className="pointer-events-none absolute inset-0" data-testid="composing">
      {held &&
        LINES.map((line) => (
          <div key={line}>
            <div className="absolute inset-y-0 w-px bg-white/60" style={{ left: percent(line) }} />
            <div className="absolute inset-x-0 h-px bg-white/60" style={{ top: percent(line) }} />
          </div>
        ))}
      {heads.map((head) => (
        <Head
          key={head.figure}
          head={held?.figure === head.figure ? { ...head, ...held } : head}
          pinned={pinned.includes(head.figure)}
          faint={held !== null && held.figure !== head.figure && !pinned.includes(head.figure)}
          onHeld={(x, y) => {
            setHeld({ figure: head.figure, x, y });
            tryOut(command(head, x, y), stage);
          }}
          onPut={async (x, y) => {
            endTry();
            if (complain(await send(command(head, x, y)))) pin(head.figure);
            else setHeld(null);
          }}
          onLarge={(share) => tryOut(command(head, head.x, head.y, share), stage)}
          onSized={async (share) => {
            endTry();
            return complain(await send(command(head, head.x, head.y, share)));
          }}
          onCancel={() => {
            setHeld(null);
            endTry();
            dropOverlay();
          }}
        />
      ))}
    </div>
  );
}

interface HeadProps {
  head: HeadInFrame;
  pinned: boolean;
  faint: boolean;
  onHeld: (x: number, y: number) => void;
  onPut: (x: number, y: number) => Promise<void>;
  onLarge: (share: number) => void;
  onSized: (share: number) => Promise<boolean>;
  onCancel: () => void;
}

function Head({ head, pinned, faint, onHeld, onPut, onLarge, onSized, onCancel }: HeadProps) {
  const ring = useRef<HTMLButtonElement>(null);
  const hold = useHold();
  const place = hold((e) => {
    const frame = ring.current?.closest("[data-testid=composing]")?.getBoundingClientRect();
    if (e.button !== 0 || !frame) return null;
    const from = [head.x, head.y];
    const moved = (dx: number, dy: number): [number, number] => [
      within(from[0] + (dx / frame.width) * 2),
      within(from[1] - (dy / frame.height) * 2),
    ];
    return {
      move: ({ dx, dy }) => onHeld(...moved(dx, dy)),
      drop: ({ dx, dy }, far) => {
        if (far) void onPut(...moved(dx, dy));
        else if (pinned) unpin(head.figure);
        else pin(head.figure);
      },
      cancel: onCancel,
    };
  });
  const size = hold((e) => {
    if (e.button !== 0) return null;
    const from = head.share;
    const by = (dy: number) => from * 2 ** (dy / TWICE_PX);
    return {
      move: ({ dy }) => onLarge(by(dy)),
      drop: ({ dy }, far) => void (far && onSized(by(dy))),
      cancel: onCancel,
    };
  });
  const larger = (steps: number) =>
    void nudge(`${head.figure} size`, [steps], ([all]) => onSized(head.share * STEP ** all));
  return (
    <div
      className={`absolute ${faint ? "opacity-30" : ""}`}
      style={{ left: percent(within(head.x)), top: percent(-within(head.y)) }}
    >
      <button
        ref={ring}
        type="button"
        aria-label={`${head.name}'s head: ${head.x.toFixed(2)} across, ${head.y.toFixed(2)} up, ${Math.round(head.share * 100)} % of the height${pinned ? ", pinned" : ""}`}
        title={`Drag ${head.name}'s head to where it should sit; a press pins it there, the wheel makes it larger`}
        aria-pressed={pinned}
        className={`pointer-events-auto absolute h-11 w-11 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none rounded-full border-2 shadow-[0_0_0_1.5px_rgb(0_0_0/0.55),inset_0_0_0_1.5px_rgb(0_0_0/0.55)] ${pinned ? "border-ochre bg-ochre/25" : "border-white"}`}
        onWheel={(e) => {
          e.stopPropagation();
          larger(-Math.sign(e.deltaY));
        }}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
          if (by) {
            e.preventDefault();
            e.stopPropagation();
            const step = e.shiftKey ? 0.1 : 0.01;
            void nudge(`${head.figure} place`, [by[0] * step, by[1] * step], async ([right, up]) => {
              await onPut(within(head.x + right), within(head.y + up));
              return true;
            });
          } else if (e.key === "+" || e.key === "-") {
            e.preventDefault();
            e.stopPropagation();
            larger(e.key === "+" ? 1 : -1);
          }
        }}
        {...place}
      />
      <button
        type="button"
        tabIndex={-1}
        aria-label={`Size of ${head.name}`}
        title="Drag down for larger, up for smaller"
        className="pointer-events-auto absolute top-7 h-3 w-7 -translate-x-1/2 cursor-ns-resize touch-none rounded-sm border border-white bg-black/50"
        {...size}
      />
      <span className="absolute top-11 -translate-x-1/2 rounded-sm bg-black/60 px-1 text-xs whitespace-nowrap text-white">
        {head.name} {Math.round(head.share * 100)} %
      </span>
    </div>
  );
}

/** What composing does, and how it ends. */
export function ComposeBar() {
  const pinned = useComposing((s) => s.pinned);
  const camera = useSeenCamera();
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const names = pinned.map((id) => figures.find((one) => one.id === id)?.name).filter(Boolean);
  return (
    <div className="flex h-8 items-center gap-3 border-t border-line px-3 text-sm" data-testid="compose-bar">
      <span className="min-w-0 flex-1 truncate">
        {camera?.locked
          ? `Camera ${camera.letter} is locked: unlock it to compose.`
          : names.length
            ? `${names.join(" and ")} pinned: drag ${names.length > 1 ? "one, and the other stays" : "another head, and this one stays"}; the camera travels.`
            : "Drag a head to where it should sit: the camera turns. A press pins one, then the camera travels. Grip or wheel: its size."}
      </span>
      {pinned.length > 0 && <Button onClick={() => useComposing.setState({ pinned: [] })}>Unpin</Button>}
      <Button hint="Alt C" onClick={toggleComposing}>
        Done
      </Button>
    </div>
  );
}
