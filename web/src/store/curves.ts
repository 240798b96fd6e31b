import { create } from "zustand";
import { ask, client } from "../api/client";
import { type DrawnCurve, unpackCurve } from "../api/samples";
import type { Channel, ChannelSpec, CurvesOut } from "../api/types";
import { itemOf, useDocument } from "./document";
import { channelsOf } from "./keys";

interface Curves {
  /** The camera, mover or figure whose curves are looked at. */
  thing: string | null;
  specs: ChannelSpec[];
  /** Channels that do nothing as the thing is set: listed once they have keys. */
  idle: string[];
  /** What the parts are called that some of the channels belong to, by their ids. */
  parts: Record<string, string>;
  curves: Record<string, DrawnCurve>;
  /** Of channels that are shown in another measure than they are kept in: kept and shown values, for an axis. */
  marks: Record<string, [number, number][]>;
  /** Whose strip is looked at: a subject in the camera. */
  watched: { camera: string; subject: string } | null;
  /** Why they cannot be had. */
  failed: string;
}

const NONE: Curves = {
  thing: null,
  specs: [],
  idle: [],
  parts: {},
  curves: {},
  marks: {},
  watched: null,
  failed: "",
};
export const useCurves = create<Curves>(() => NONE);

type Packed = Record<string, Record<string, { keys: string; low: number; high: number }>>;

export const unpackCurves = (packed: Packed): Record<string, Record<string, DrawnCurve>> =>
  Object.fromEntries(
    Object.entries(packed).map(([thing, found]) => [
      thing,
      Object.fromEntries(Object.entries(found).map(([name, curve]) => [name, unpackCurve(curve)])),
    ]),
  );

/** Take in curves that came with an answer. */
export function takeCurves(packed: Packed): void {
  const { thing } = useCurves.getState();
  const found = thing && packed[thing];
  if (!found) return;
  const new_ = unpackCurves(packed)[thing];
  useCurves.setState((s) => ({ curves: { ...s.curves, ...new_ } }));
}

/** Look at the curves of a thing; of none, look at none. */
export async function openCurves(thing: string | null): Promise<void> {
  if (useCurves.getState().thing === thing) return;
  useCurves.setState({ ...NONE, thing });
  await refreshCurves();
}

export async function refreshCurves(): Promise<void> {
  const { thing } = useCurves.getState();
  const { id, scene } = useDocument.getState();
  if (!thing || id === null || !thingOf(scene, thing)) return;
  const { data, problem } = await ask(
    client.GET("/api/scenes/{scene_id}/curves/{thing}", { params: { path: { scene_id: id, thing } } }),
  );
  if (useCurves.getState().thing !== thing) return;
  if (!data) return useCurves.setState({ failed: problem?.detail ?? "The server does not answer." });
  const { specs, idle, parts, curves, marks } = data as CurvesOut;
  useCurves.setState({
    specs,
    idle,
    parts,
    marks,
    curves: unpackCurves({ [thing]: curves })[thing],
    failed: "",
  });
}

/** Whether the thing has other channels now than those that are known: a layer came, or went. */
export function strangeCurves(): boolean {
  const { thing, specs } = useCurves.getState();
  const found = thingOf(useDocument.getState().scene, thing);
  return !!found && channelsOf(found).length !== specs.length;
}

/** A camera, a mover or a figure, by its id. */
export const thingOf = (
  scene: ReturnType<typeof useDocument.getState>["scene"],
  id: string | null,
): object | undefined =>
  itemOf(scene, "cameras", id) ?? itemOf(scene, "movers", id) ?? itemOf(scene, "figures", id);

/** Its channels by their whole names. */
export const channelsBy = (thing: object | undefined): Record<string, Channel> =>
  thing ? Object.fromEntries(channelsOf(thing)) : {};
