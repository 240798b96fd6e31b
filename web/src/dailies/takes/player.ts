import { useCallback, useEffect, useRef, useState } from "react";

/** A movie's clock: which frame it is, how fast it goes and which way. */
export interface Player {
  frame: number;
  /** Frames for each frame of real time: 1 forward, −1 back, 0 stands. */
  speed: number;
  go(frame: number): void;
  step(by: number): void;
  /** Play at a speed. */
  run(speed: number): void;
  toggle(): void;
}

/** Plays some frames by the clock, in a loop over a range; a frame that is late is left out, never delayed. */
export function usePlayer(count: number, perSecond: number, range: { first: number; last: number }): Player {
  const [frame, setFrame] = useState(0);
  const [speed, setSpeed] = useState(0);
  const now = useRef({ frame, speed });
  now.current = { frame, speed };
  const go = useCallback(
    (to: number) => setFrame(Math.min(Math.max(Math.round(to), 0), Math.max(count - 1, 0))),
    [count],
  );
  useEffect(() => {
    go(now.current.frame);
  }, [go]);
  useEffect(() => {
    if (speed === 0 || count === 0) return;
    const { first, last } = range;
    const length = last - first + 1;
    const inside = now.current.frame >= first && now.current.frame <= last;
    const from = (inside ? now.current.frame : speed > 0 ? first : last) - first;
    const began = performance.now();
    let mine = 0;
    const tick = () => {
      const passed = Math.floor(((performance.now() - began) / 1000) * perSecond * Math.abs(speed));
      const at = (((from + Math.sign(speed) * passed) % length) + length) % length;
      setFrame(first + at);
      mine = requestAnimationFrame(tick);
    };
    mine = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(mine);
  }, [speed, count, perSecond, range]);
  return {
    frame,
    speed,
    go: (to) => {
      setSpeed(0);
      go(to);
    },
    step: (by) => {
      setSpeed(0);
      go(now.current.frame + by);
    },
    run: setSpeed,
    toggle: () => setSpeed(now.current.speed ? 0 : 1),
  };
}

const FASTEST = 4;

/** Keys of a movie: J back, K stands, L forward, each again twice as fast; arrows by frames, with Shift by a second. */
export function playerKey(player: Player, e: KeyboardEvent, perSecond: number, count: number): boolean {
  const second = Math.round(perSecond);
  const faster = (way: 1 | -1) =>
    player.run(player.speed * way > 0 ? way * Math.min(Math.abs(player.speed) * 2, FASTEST) : way);
  const acts: Record<string, () => void> = {
    j: () => faster(-1),
    k: () => player.run(0),
    l: () => faster(1),
    " ": player.toggle,
    ArrowLeft: () => player.step(e.shiftKey ? -second : -1),
    ArrowRight: () => player.step(e.shiftKey ? second : 1),
    Home: () => player.go(0),
    End: () => player.go(count - 1),
  };
  const act = acts[e.key.length === 1 ? e.key.toLowerCase() : e.key];
  if (!act || e.ctrlKey || e.metaKey || e.altKey) return false;
  act();
  return true;
}
