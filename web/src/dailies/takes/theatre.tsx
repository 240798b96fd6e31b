import { useQuery } from "@tanstack/react-query";
import { ChevronLeft, ChevronRight, Pause, Play, Repeat } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Take, TakeFrame, TakeWhole } from "../../api/types";
import { Button } from "../../ui/button";
import { OneOf } from "../../ui/one-of";
import { Tick } from "../../ui/tick";
import { against, wholeTake } from "../asking";
import { Between } from "./between";
import { playerKey, usePlayer } from "./player";
import { Remarks } from "./remarks";
import { Screen, type Way } from "./screen";
import { Strip, shotAbout } from "./strip";

const WAYS: { value: Way; label: string; tip: string }[] = [
  { value: "beside", label: "Side by side", tip: "Both, the older at the right" },
  { value: "wipe", label: "Wipe", tip: "This one left of the line, the other right of it; drag the line" },
  { value: "difference", label: "Difference", tip: "What is alike is black" },
];
const STEPS = [
  { value: "cut", label: "the cut", tip: "The same place in the cut" },
  { value: "stage", label: "the stage", tip: "The same moment of the stage, where timing changed" },
] as const;
const AHEAD = 24;
/** So many frames that could not be drawn are named. */
const LISTED = 50;

const rateOf = (take: Take) => {
  const [top, bottom] = take.rate.split("/").map(Number);
  return top / bottom;
};

/** A take played frame by frame, alone or against another. */
export function Theatre({ take, other }: { take: Take; other: Take | null }) {
  const mark = (one: Take) => `${one.state} ${one.state === "drawing" ? Math.floor(one.done / 8) : one.done}`;
  const { data: whole } = useQuery(wholeTake(take.id, mark(take)));
  const { data: second } = useQuery({
    ...wholeTake(other?.id ?? 0, other ? mark(other) : ""),
    enabled: other !== null,
  });
  const [by, setBy] = useState<"cut" | "stage">("cut");
  const { data: pair } = useQuery({ ...against(take.id, other?.id ?? 0, by), enabled: other !== null });
  const [chosen, setWay] = useState<Way>("wipe");
  const [wipe, setWipe] = useState(0.5);
  const [strong, setStrong] = useState(true);
  const [looped, setLooped] = useState<{ first: number; last: number } | null>(null);
  const count = whole?.movie.length ?? 0;
  const range = useMemo(() => looped ?? { first: 0, last: Math.max(count - 1, 0) }, [looped, count]);
  const perSecond = rateOf(take);
  const player = usePlayer(count, perSecond, range);
  const way: Way = other && second && pair ? chosen : "alone";
  const latest = useRef(player);
  latest.current = player;
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, textarea, select")) return;
      if (playerKey(latest.current, e, perSecond, count)) {
        e.preventDefault();
        e.stopPropagation();
      }
    };
    window.addEventListener("keydown", key, true);
    return () => window.removeEventListener("keydown", key, true);
  }, [perSecond, count]);
  if (!whole) return <p className="p-6 text-sm text-faint">Opening the take…</p>;
  const shown = (of: TakeWhole | undefined, at: number | null | undefined): TakeFrame | null | undefined => {
    if (!of || at === null || at === undefined || at >= of.movie.length) return undefined;
    const place = of.movie[at];
    return place === null ? null : of.frames[place];
  };
  const here = player.frame;
  const beside = pair?.beside[here];
  const one = shown(whole, here);
  const two = shown(second, beside);
  const sign = player.speed < 0 ? -1 : 1;
  const ahead = Array.from({ length: AHEAD }, (_, i) => here + sign * (i + 1)).flatMap((at) => [
    shown(whole, at)?.proof ?? "",
    way === "alone" ? "" : (shown(second, pair?.beside[at])?.proof ?? ""),
  ]);
  const wide = Math.min(take.wide, 960);
  const size: [number, number] = [wide, Math.round((wide * take.high) / take.wide)];
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 p-3">
        {other && (
          <div className="flex flex-wrap items-center gap-1.5">
            <OneOf
              label="How the two are held against each other"
              value={way}
              options={WAYS}
              onSet={setWay}
            />
            {way === "wipe" && (
              <input
                type="range"
                className="w-32 accent-slate"
                aria-label="Where the wipe stands"
                min={0}
                max={1}
                step={0.01}
                value={wipe}
                onChange={(e) => setWipe(Number(e.target.value))}
              />
            )}
            {way === "difference" && (
              <Tick on={strong} onSet={setStrong}>
                four times as strong
              </Tick>
            )}
            <span className="ml-3 text-sm text-faint">in step by</span>
            <OneOf label="In step by" value={by} options={STEPS} onSet={setBy} />
          </div>
        )}
        <div
          className="flex min-h-0 flex-1 items-center justify-center overflow-hidden bg-mat"
          style={{ containerType: "size" }}
        >
          <Screen
            one={one}
            other={two}
            ahead={ahead}
            way={way}
            wipe={wipe}
            strong={strong}
            size={size}
            onWipe={setWipe}
          />
        </div>
        <div className="flex gap-3 text-xs">
          <Said label={`Take ${take.number}`} frame={one} />
          {way !== "alone" && other && <Said label={`Take ${other.number}`} frame={two} />}
        </div>
        <Strip whole={whole} player={player} looped={looped} />
        <div className="flex items-center gap-1.5">
          <Button tip="Previous frame" hint="←" onClick={() => player.step(-1)}>
            <ChevronLeft size={15} />
          </Button>
          <Button tip={player.speed ? "Stand" : "Play"} hint="Space" tone="main" onClick={player.toggle}>
            {player.speed ? <Pause size={15} /> : <Play size={15} />}
          </Button>
          <Button tip="Next frame" hint="→" onClick={() => player.step(1)}>
            <ChevronRight size={15} />
          </Button>
          <Button
            on={looped !== null}
            tip="Loop this shot"
            onClick={() => setLooped(looped ? null : shotAbout(whole, here))}
          >
            <Repeat size={15} /> Shot
          </Button>
          <span className="ml-2 text-sm tabular-nums" data-testid="take-clock">
            {whole.timecodes[here]} · frame {here + 1} of {count}
            {player.speed !== 0 && player.speed !== 1 && ` · ${player.speed} ×`}
          </span>
          <span className="ml-auto text-xs text-faint">J back · K stand · L forward, again for faster</span>
        </div>
      </div>
      <aside
        className="flex w-64 shrink-0 flex-col overflow-auto border-l border-line"
        aria-label="Remarks and changes"
      >
        {other && pair && (
          <Between
            newer={take.at >= other.at ? take : other}
            older={take.at >= other.at ? other : take}
            {...pair}
          />
        )}
        <Remarks
          take={take}
          remarks={whole.remarks}
          frame={here}
          timecodes={whole.timecodes}
          onGo={player.go}
        />
        <Failed whole={whole} />
      </aside>
    </>
  );
}

/** What a frame is of, in words. */
function Said({ label, frame }: { label: string; frame: TakeFrame | null | undefined }) {
  return (
    <p className="min-w-0 flex-1">
      <span className="font-semibold">{label}</span>{" "}
      <span className="text-faint">
        {frame === undefined ? "shows nothing here" : frame === null ? "black" : frame.slate || frame.reason}
        {frame && frame.state !== "done" && " · not drawn"}
      </span>
    </p>
  );
}

/** Frames that could not be drawn, and why. */
function Failed({ whole }: { whole: TakeWhole }) {
  const failed = whole.frames.filter((frame) => frame.state === "failed");
  if (!failed.length) return null;
  return (
    <section className="border-t border-line px-3 py-2 text-sm">
      <h3 className="heading mb-1 text-brick">Not drawn</h3>
      <ul>
        {failed.slice(0, LISTED).map((frame) => (
          <li key={frame.place} className="py-0.5 text-xs">
            {frame.shot ? `Shot ${frame.shot}` : `Camera ${frame.camera}`}, stage {frame.stage}:{" "}
            {frame.reason}
          </li>
        ))}
        {failed.length > LISTED && <li className="py-0.5 text-xs">and {failed.length - LISTED} more</li>}
      </ul>
    </section>
  );
}
