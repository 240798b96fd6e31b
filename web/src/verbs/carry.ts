import type { Command, Does } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { rowOf } from "../store/samples";
import { endTry, send, tryOut } from "../store/sending";
import { snap } from "../store/space";
import { leavePose, poseOf, type Touched, tryPose } from "../store/unsaved";
import { complain, type Kind, select, useView } from "../store/view";

/** How far something is carried, metres on the stage; `free` is off the steps of 5 cm, `through` through what it would rest on. */
export interface By {
  dx: number;
  dy: number;
  dz: number;
  free: boolean;
  through?: boolean;
}

/** Something carried or turned by hand, on the plan or in the picture: shown as it goes, done where it is let go. */
export interface Carried<T> {
  pick(): void;
  show(by: T): void;
  keep(by: T): Promise<unknown>;
}

const stage = () => useMoment.getState().stage;

/** A command tried wherever the hand is, and done where it lets go. */
export function trying<T>(pick: () => void, command: (by: T) => Command): Carried<T> {
  return {
    pick,
    show: (by) => tryOut(command(by), stage()),
    keep: async (by) => {
      endTry();
      return complain(await send(command(by)));
    },
  };
}

/** A camera stays unsaved where it has keys, until it is decided what happens to its path. */
const posing = <T>(id: string, pick: () => void, pose: (by: T) => Touched): Carried<T> => ({
  pick,
  show: (by) => tryPose(id, pose(by)),
  keep: (by) => leavePose(id, pose(by)),
});

/** Which pieces a hand on this one takes along: its group, unless it is selected alone. */
function together(piece: string): string[] {
  const { kind, ids } = useView.getState();
  if (kind === "piece" && ids.includes(piece)) return ids;
  const pieces = useDocument.getState().scene?.pieces ?? [];
  const group = pieces.find((p) => p.id === piece)?.group;
  return group ? pieces.filter((p) => p.group === group).map((p) => p.id) : [piece];
}

/** Be here at this frame, the whole path with it. */
export const put = (thing: string, touched: Touched): Does<"thing.put"> => ({
  kind: "thing.put",
  thing,
  frame: stage(),
  keep: "path",
  ...touched,
});

/** What happens to something that is carried; null for what is not carried by hand. */
export function carry(kind: Kind, id: string): Carried<By> | null {
  const pick = () => select(kind, [id]);
  if (kind === "camera") {
    const start = poseOf(id, stage());
    if (!start) return null;
    return posing(id, pick, ({ dx, dy, dz, free }) =>
      dy ? { y: snap(start.y + dy, free) } : { x: snap(start.x + dx, free), z: snap(start.z + dz, free) },
    );
  }
  if (kind === "perch") {
    const row = rowOf(id, stage());
    if (!row) return null;
    return trying<By>(pick, ({ dx, dy, dz, free }) => ({
      kind: "perch.set",
      perch: id,
      frame: stage(),
      ...(dy ? { y: snap(row[1] + dy, free) } : { x: snap(row[0] + dx, free), z: snap(row[2] + dz, free) }),
    }));
  }
  if (kind === "figure") {
    const figure = itemOf(useDocument.getState().scene, "figures", id);
    const row = rowOf(id, stage());
    if (!figure) return null;
    const { kind: chosen, ids } = useView.getState();
    // Everybody who is selected goes along, walks and all.
    if (chosen === "figure" && ids.length > 1 && ids.includes(id))
      return trying<By>(
        () => select("figure", ids),
        ({ dx, dz, free }) => ({ kind: "things.move", ids, dx: snap(dx, free), dz: snap(dz, free) }),
      );
    const [x, z] = row ? [row[0], row[2]] : [figure.x, figure.z];
    // The end that counts here goes with the hand; with Shift all of the walk.
    return trying<By>(pick, ({ dx, dz, free, through }) => ({
      ...put(id, { x: snap(x + dx, free), z: snap(z + dz, free) }),
      keep: through ? "path" : "end",
    }));
  }
  if (kind === "mover" || kind === "piece") {
    const ids = kind === "piece" ? together(id) : [id];
    const by = ({ dx, dy, dz, free }: By) => ({ dx: snap(dx, free), dy: snap(dy, free), dz: snap(dz, free) });
    return trying<By>(
      () => select(kind, ids),
      (hand) => ({ kind: "things.move", ids, ...by(hand), climb: !hand.dy && !hand.through }),
    );
  }
  return null;
}

/** Something turned by hand about its own upright, degrees to the left. */
export function turnBy(kind: Kind, id: string): Carried<number> | null {
  const whole = (degrees: number) => Math.round(degrees * 2) / 2;
  const pick = () => select(kind, kind === "piece" ? together(id) : [id]);
  if (kind === "piece")
    return trying(pick, (by) => ({ kind: "things.move", ids: together(id), turn: whole(by) }));
  const faces = kind === "camera" || kind === "mover" ? poseOf(id, stage())?.pan : rowOf(id, stage())?.[3];
  if (kind === "shot" || faces === undefined) return null;
  if (kind === "camera") return posing(id, pick, (by) => ({ pan: whole(faces + by) }));
  return trying(pick, (by) => {
    const pan = whole(faces + by);
    return kind === "perch" ? { kind: "perch.set", perch: id, frame: stage(), pan } : put(id, { pan });
  });
}
