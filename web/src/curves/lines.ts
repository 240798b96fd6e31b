import { useMemo } from "react";
import type { Channel } from "../api/types";
import { channelsBy, thingOf, useCurves } from "../store/curves";
import { useDocument } from "../store/document";
import { useKeysPicked } from "../store/picked";
import { useView } from "../store/view";
import { shownNames } from "../verbs/curves";
import { curveDash, curveHue } from "./hues";
import type { Line } from "./paint";

/** The curves that are shown, as stored and as the hand would leave them. */
export interface Shown {
  names: string[];
  active: string | null;
  lines: Line[];
  /** Those the hand is changing, as they would be. */
  tried: Line[];
  /** Channels as stored, and with the hand's change. */
  stored: Record<string, Channel>;
  now: Record<string, Channel>;
}

export function useShown(): Shown {
  const { thing, specs, curves, marks } = useCurves();
  const scene = useDocument((s) => s.scene);
  const shownScene = useDocument((s) => s.shown);
  const overlay = useDocument((s) => s.overlay?.curves);
  const chosen = useKeysPicked((s) => s.shown);
  const wanted = useKeysPicked((s) => s.active);
  const dim = useView((s) => s.dim);
  // What is stored is made again only when it is another: the sheet it stands on is not drawn for every try.
  const still = useMemo(() => {
    void chosen;
    const stored = channelsBy(thingOf(scene, thing));
    const names = shownNames(stored, specs);
    const active = wanted && names.includes(wanted) ? wanted : (names[0] ?? null);
    const line = (name: string, curve = curves[name]): Line[] => {
      const at = specs.findIndex((spec) => spec.name === name);
      if (at < 0 || !curve) return [];
      return [
        {
          spec: specs[at],
          curve,
          hue: curveHue(at, dim),
          dash: curveDash(specs[at]),
          active: name === active,
          marks: marks[name],
        },
      ];
    };
    return { stored, names, active, line, lines: names.flatMap((name) => line(name)) };
  }, [thing, specs, curves, marks, scene, chosen, wanted, dim]);
  return useMemo(() => {
    const { stored, names, active, line, lines } = still;
    const tried = thing ? (overlay?.[thing] ?? {}) : {};
    return {
      names,
      active,
      lines,
      tried: names.filter((name) => name in tried).flatMap((name) => line(name, tried[name])),
      stored,
      now: channelsBy(thingOf(shownScene, thing)),
    };
  }, [still, thing, overlay, shownScene]);
}
