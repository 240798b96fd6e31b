import { useLayoutEffect } from "react";
import type { Mover } from "../api/types";
import { useDocument } from "../store/document";
import { sceneDrawn } from "../store/dressing";
import { rowOf } from "../store/samples";
import { standLamps } from "./renderer/lamps";
import { usePosed } from "./renderer/posing";
import { redraw } from "./renderer/redraw";

type Row = NonNullable<ReturnType<typeof rowOf>>;

/** The lamps of the stage, as the paint needs them. */
export function Lamps() {
  const movers = useDocument((s) => s.shown?.movers);
  usePosed((frame) => {
    const lamps = (sceneDrawn()?.movers ?? []).filter((mover) => mover.light && !mover.hidden);
    const rows = lamps.map((mover): { mover: Mover; row: Row | null } => ({
      mover,
      row: rowOf(mover.id, frame),
    }));
    standLamps(rows.filter((one): one is { mover: Mover; row: Row } => one.row !== null));
  });
  useLayoutEffect(() => {
    void movers;
    redraw();
  }, [movers]);
  return null;
}
