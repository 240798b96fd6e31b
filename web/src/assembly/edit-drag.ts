import { ask, client } from "../api/client";
import type { Command, Do, Edges, Shot } from "../api/types";
import { useSaid } from "../store/cut-hand";
import { useDocument } from "../store/document";
import { pause, useMoment } from "../store/moment";
import { cutTable } from "../store/samples";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, type Edge, useView } from "../store/view";
import type { Hand } from "../ui/hold";
import { type Spot, snapped } from "./snaps";

interface Limits {
  least: number | null;
  most: number | null;
  stops: string[];
}

/** An edit as a hand does it. */
export interface Handled {
  /** The edit without its frames, as the keys that are held have it. */
  edit(hand: Hand): Edges;
  /** The frame of the cut that is under the hand, when it takes hold. */
  at: number;
  /** What it is drawn on to: the frame it starts from, and others. */
  spots(hand: Hand): { from: number; spots: Spot[] }[];
  /** The frames at the edges, to be looked at. */
  edges(by: number, hand: Hand): Edge[];
}

export const signed = (by: number) => `${by > 0 ? "+" : by < 0 ? "−" : ""}${Math.abs(by)} f`;

/** A drag of edges: kept within what the cut has frames for, drawn on to what is near, and tried out as it goes. */
export function dragEdges(handled: Handled, ppf: number) {
  const limits = new Map<string, Limits | null>();
  const asking = new Map<string, Promise<void>>();
  const { id } = useDocument.getState();
  const limitsOf = (edit: Edges): Limits | null => {
    const key = JSON.stringify(edit);
    if (!limits.has(key) && id !== null) {
      limits.set(key, null);
      const path = { scene_id: id };
      const answer = ask(
        client.POST("/api/scenes/{scene_id}/cut/limits", { params: { path }, body: { ...edit, by: 0 } }),
      ).then(({ data }) => {
        if (data) limits.set(key, data);
      });
      asking.set(key, answer);
    }
    return limits.get(key) ?? null;
  };
  /** How far it goes of what the hand asks for, and what is said of that. */
  const far = (asked: number, hand: Hand) => {
    const found = hand.alt
      ? { by: asked, on: "" }
      : handled
          .spots(hand)
          .map(({ from, spots }) => snapped(asked, from, spots, ppf))
          .reduce((best, one) =>
            one.on && (!best.on || Math.abs(one.by - asked) < Math.abs(best.by - asked)) ? one : best,
          );
    const { least, most, stops } = limitsOf(handled.edit(hand)) ?? { least: null, most: null, stops: [] };
    if (most !== null && found.by > most) return { by: most, on: "", stop: stops[1] };
    if (least !== null && found.by < least) return { by: least, on: "", stop: stops[0] };
    return { ...found, stop: "" };
  };
  const say = (by: number, on: string, stop: string, hand: Hand) => {
    const shots = handled.edit(hand).shots.length;
    const parts = [signed(by)];
    if (shots > 1) parts.push(`${shots} shots`);
    if (on) parts.push(`on ${on}`);
    if (stop) parts.push(stop);
    useSaid.setState({ said: { text: parts.join(" · "), stopped: Boolean(stop), at: handled.at + by } });
  };
  const over = () => {
    useSaid.setState({ said: null });
    useView.setState({ edges: null });
    endTry();
  };
  const cancel = () => {
    over();
    dropOverlay();
  };
  pause();
  const command = (by: number, hand: Hand): Command => ({
    kind: "cut.edit",
    do: { ...handled.edit(hand), by },
  });
  return {
    move: (asked: number, hand: Hand) => {
      const { by, on, stop } = far(asked, hand);
      // Shots of a cut that is proposed do not go along; why not is said where a try is.
      if (isProposed()) return tryOut(command(by, hand), useMoment.getState().stage);
      say(by, on, stop, hand);
      useView.setState({ edges: handled.edges(by, hand) });
      tryOut(command(by, hand), useMoment.getState().stage);
    },
    drop: async (asked: number | null, hand: Hand) => {
      // A quick hand lets go before it is known how far it goes.
      if (asked) {
        limitsOf(handled.edit(hand));
        await asking.get(JSON.stringify(handled.edit(hand)));
      }
      const by = asked && far(asked, hand).by;
      if (!by) return cancel();
      over();
      complain(await send(command(by, hand)));
    },
    cancel,
  };
}

/** Whether the cut that is seen is only proposed. */
const isProposed = (): boolean => Boolean(useDocument.getState().overlay?.cut);

/** A drag of a number of frames that an edit has: tried out as it goes, and said beside the hand. */
export function dragFrames(drag: {
  edit(by: number): Do;
  says(by: number): string;
  /** The frame of the cut beside which it is said. */
  at(by: number): number;
}) {
  const command = (by: number): Command => ({ kind: "cut.edit", do: drag.edit(by) });
  const over = () => {
    useSaid.setState({ said: null });
    endTry();
  };
  return {
    move: (by: number) => {
      if (isProposed()) return tryOut(command(by), useMoment.getState().stage);
      useSaid.setState({ said: { text: drag.says(by), stopped: false, at: drag.at(by) } });
      tryOut(command(by), useMoment.getState().stage);
    },
    drop: async (by: number | null) => {
      over();
      if (by) complain(await send(command(by)));
      else dropOverlay();
    },
    cancel: () => {
      over();
      dropOverlay();
    },
  };
}

/** A frame at an end of a shot, moved by so many; nothing where there is no shot. */
export function edgeOf(shot: Shot | null | undefined, side: Edge["side"], by = 0): Edge[] {
  return shot ? [{ shot: shot.name, camera: shot.camera, frame: shot.stage[side] + by, side }] : [];
}

/** The shots beside one, and whether they touch it. */
export function besides(shot: Shot) {
  const shots = useDocument.getState().scene?.shots ?? [];
  const at = shots.findIndex((one) => one.id === shot.id);
  const [before, after] = [shots[at - 1] ?? null, shots[at + 1] ?? null];
  return {
    before,
    after,
    touchesBefore: before !== null && shots[at].gap_before === 0,
    touchesAfter: after !== null && after.gap_before === 0,
  };
}

/** Where a shot lies in the cut as it is kept. */
export const keptPlace = (id: string) => cutTable()?.shots.find((one) => one.id === id);
