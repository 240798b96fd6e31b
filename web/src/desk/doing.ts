import { goToJoint } from "../assembly/walk";
import { operate } from "../operating/operate";
import { useAgainst } from "../store/against";
import { toggleComposing, useComposing } from "../store/composing";
import { dressShot, useDocument } from "../store/document";
import { fitStrip } from "../store/fitted";
import { here, loopRange, rate, span, useMoment } from "../store/moment";
import { placedShots } from "../store/samples";
import { dropUnsaved, setKey, useUnsaved } from "../store/unsaved";
import { notice, select, toggleSide, useView } from "../store/view";
import { meantCamera } from "../verbs/cameras";
import { addShot, nudgeEdit } from "../verbs/cutting";
import { choose, type What } from "../viewfinder/moves-chosen";

export function loopEnd(which: "first" | "last"): void {
  const { clock, loop } = useMoment.getState();
  const whole = span(clock);
  const was = loop?.clock === clock ? loop : whole;
  const range = { first: was.first, last: was.last, [which]: here() };
  if (range.last <= range.first)
    loopRange(which === "first" ? { first: here(), last: whole.last } : { first: whole.first, last: here() });
  else loopRange(range);
}

export function letGo(): void {
  const { tool, picking, comparing, whole } = useView.getState();
  if (useAgainst.getState().held) useAgainst.setState({ held: null });
  else if (useView.getState().wall) useView.setState({ wall: false, held: [] });
  else if (whole) useView.setState({ whole: false });
  else if (picking) useView.setState({ picking: null });
  else if (comparing) useView.setState({ comparing: null });
  else if (useComposing.getState().on) toggleComposing();
  else if (tool !== "select") useView.setState({ tool: "select" });
  else if (useUnsaved.getState().unsaved) dropUnsaved();
  else if (useView.getState().kind) select(null);
  else dressShot(null);
}

/** Have the selected shots fill the strip; else the one at the playhead. */
export function fitShots(): void {
  const { kind, ids } = useView.getState();
  const here = placedShots()[useMoment.getState().shot]?.id;
  const meant = placedShots().filter((one) => (kind === "shot" ? ids.includes(one.id) : one.id === here));
  if (meant.length) fitStrip("cut", { first: meant[0].cut_first, last: meant[meant.length - 1].cut_last });
}

export function keyCamera(): void {
  const camera = meantCamera();
  if (camera) void setKey(camera);
  else notice("No camera is chosen.", "Look through one, or select one, then set its key.");
}

export function operateChosen(): void {
  const { kind, ids } = useView.getState();
  const camera = meantCamera();
  if (kind === "mover") operate({ table: "movers", id: ids[0] });
  else if (kind === "figure") operate({ table: "figures", id: ids[0] });
  else if (camera) operate({ table: "cameras", id: camera });
  else notice("Nothing to operate is chosen.", "Look through a camera, or select a mover or a figure.");
}

/** To the name on the card. */
export function rename(): void {
  const field = document.querySelector<HTMLInputElement>("input[data-name]");
  if (field) {
    field.focus();
    field.select();
  } else notice("The card is not shown.", "Close the panel beside the picture first.");
}

export function openMove(what: What): void {
  choose({ what });
  if (useView.getState().side !== "move") toggleSide("move");
}

export function trimChosen(edge: "first" | "last", by: number, roll = false): void {
  const { kind, ids } = useView.getState();
  const shots = useDocument.getState().scene?.shots ?? [];
  const after = shots[shots.findIndex((shot) => shot.id === ids.at(-1)) + 1];
  if (kind !== "shot") notice("No shot is selected.", "Click one in the cut first.");
  else if (!roll) void nudgeEdit({ edit: edge === "first" ? "trim_in" : "trim_out", shots: ids }, by);
  else if (after) void nudgeEdit({ edit: "roll", shots: [after.id] }, by);
  else notice("No shot comes after it.", "Roll the cut to a later shot.");
}

/** The keyboard on the cut that is nearest to the playhead. */
export function toNearestJoint(): void {
  const shots = useDocument.getState().scene?.shots ?? [];
  const { cut } = useMoment.getState();
  const joints = placedShots().filter((_, i) => i > 0 && shots[i]?.gap_before === 0);
  const near = joints.sort((a, b) => Math.abs(a.cut_first - cut) - Math.abs(b.cut_first - cut))[0];
  if (near) goToJoint(near.id);
  else notice("No two shots touch.", "Put a second shot on the assembly, or close the gap.", false);
}

export function shotOf(): void {
  const camera = meantCamera();
  if (camera) void addShot(camera);
  else notice("No camera is chosen.", "Select the camera that the shot is on.");
}

/** A second, a half, a quarter, none. */
export function nextGhosts(now: number): number {
  const whole = Math.round(rate());
  const steps = [0, whole, Math.round(whole / 2), Math.round(whole / 4)];
  return steps[(steps.indexOf(now) + 1) % steps.length];
}

export const NEXT_BOARD = { hidden: "beside", beside: "over", over: "hidden" } as const;
export const AFTER = { lanes: "curves", curves: "rows", rows: "lanes" } as const;
export const NEXT = { above: "front", front: "side", side: "above" } as const;
