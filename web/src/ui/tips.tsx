import { lazy, Suspense, useEffect, useState } from "react";
import { flushSync } from "react-dom";
import { fetched } from "./fetched";

const Tip = lazy(() => fetched(() => import("./tip")));

/** A tip comes after a moment, and at once where one was shown just before. */
const AFTER_MS = 450;
const STILL_MS = 300;
const GONE_MS = 250;

/** What buttons do, said on hover and where the keyboard is: one tip for all that have `data-tip`. */
export function Tips() {
  const [over, setOver] = useState<HTMLElement | null>(null);
  useEffect(() => {
    let timer = 0;
    let near: HTMLElement | null = null;
    let shown: HTMLElement | null = null;
    let last = Number.NEGATIVE_INFINITY;
    const show = (one: HTMLElement | null) => {
      window.clearTimeout(timer);
      if (shown) last = performance.now();
      if (shown !== one) setOver(one);
      shown = one;
    };
    const tipped = (e: Event) =>
      e.target instanceof Element ? e.target.closest<HTMLElement>("[data-tip]") : null;
    const point = (e: PointerEvent) => {
      const one = e.pointerType === "touch" || e.buttons ? null : tipped(e);
      if (one === near) return;
      near = one;
      const still = shown || performance.now() - last < STILL_MS;
      show(null);
      if (one) timer = window.setTimeout(() => show(one), still ? 0 : AFTER_MS);
    };
    const focus = (e: FocusEvent) => {
      const one = tipped(e);
      if (one?.matches(":focus-visible")) show(one);
    };
    const hide = () => show(null);
    // It is gone before whatever else a key closes looks for the uppermost.
    const key = () => shown && flushSync(hide);
    const leave = () => {
      near = null;
      hide();
    };
    const watch = window.setInterval(() => shown && !shown.isConnected && hide(), GONE_MS);
    const ends = [
      on("pointerover", point),
      on("pointerdown", hide),
      on("focusin", focus),
      on("focusout", hide),
      on("keydown", key),
      on("scroll", hide),
      on("wheel", hide),
    ];
    document.documentElement.addEventListener("pointerleave", leave);
    return () => {
      window.clearTimeout(timer);
      window.clearInterval(watch);
      document.documentElement.removeEventListener("pointerleave", leave);
      for (const end of ends) end();
    };
  }, []);
  return (
    over && (
      <Suspense>
        <Tip of={over} />
      </Suspense>
    )
  );
}

function on<K extends keyof WindowEventMap>(kind: K, does: (e: WindowEventMap[K]) => unknown): () => void {
  const how = { capture: true, passive: true };
  window.addEventListener(kind, does, how);
  return () => window.removeEventListener(kind, does, how);
}
