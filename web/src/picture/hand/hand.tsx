import { useThree } from "@react-three/fiber";
import { useWheel } from "@use-gesture/react";
import { type PointerEvent as ReactPointerEvent, useEffect, useRef } from "react";
import { Plane, Raycaster, Vector2, Vector3 } from "three";
import type { Pose } from "../../api/types";
import { useBringing } from "../../store/bringing";
import { itemOf, storedScene, useDocument } from "../../store/document";
import type { Part } from "../../store/handles";
import { pause, useMoment } from "../../store/moment";
import { roverPlace, roverTo } from "../../store/rover";
import { dropOverlay, endTry, send, tryOut } from "../../store/sending";
import { leavePose, poseOf, subjectOf, type Touched, tryPose } from "../../store/unsaved";
import { cameraSeen, complain, select, selectAlso, useView } from "../../store/view";
import type { Hand, Held } from "../../ui/hold";
import { type By, type Carried, carry, turnBy } from "../../verbs/carry";
import { posing } from "../../verbs/poses";
import { pointOut } from "../../verbs/rig";
import { pointedAt } from "../pointed-at";
import { sights, stand } from "../sight";
import { bodyAt, carries, heldPoint, wayOf } from "./held";
import { alongside, dollied, looked, onlyPlace, rolled, rounded, slid, tidy } from "./moves";

/** What is told of files that are dropped in the picture. */
export type Dropped = (e: React.DragEvent) => void;

/** What is held when the picture is pressed. */
export type Grip = (e: ReactPointerEvent) => Held | null;

/** What the keyboard does on the picture. */
export type Keys = (e: React.KeyboardEvent) => void;

/** What one press of an arrow comes to: degrees, shares of the distance, and how much nearer. */
const TURN = 1;
const STEP = 0.02;
const NEARER = 1.05;
/** Degrees for each pixel that a drag goes round by. */
const ROUND = 0.35;
/** Degrees for each pixel that a body is turned by. */
const TURNS = 0.6;
/** With Alt, a drag is this much finer. */
const FINE = 0.1;
/** A camera is mounted this far off the surface that was pressed, metres. */
const MOUNTED_OFF = 0.15;
/** How much nearer a step of the wheel goes. */
const WHEEL = 0.0012;

/** What the keyboard asked for before is done first. */
let pressed: Promise<unknown> = Promise.resolve();

/** The hand, finer with Alt; with Ctrl only along its longer direction. */
function meant({ dx, dy, alt, ctrl }: Hand): [number, number] {
  const much = alt ? FINE : 1;
  const [x, y] = [dx * much, dy * much];
  if (!ctrl) return [x, y];
  return Math.abs(x) >= Math.abs(y) ? [x, 0] : [0, y];
}

/** What moves: the camera that is looked through and what it watches, or the rover. */
interface Mover {
  from: Pose;
  /** What it goes round and comes nearer to: its own direction follows by its aim. */
  subject: Vector3 | null;
  show(to: Touched): void;
  keep(to: Touched): unknown;
  cancel(): void;
}

function mover(): Mover | null {
  const seen = cameraSeen();
  if (seen) {
    const { stage } = useMoment.getState();
    const from = poseOf(seen, stage);
    const watched = subjectOf(seen, stage);
    const subject = watched && new Vector3(watched.x, watched.y, watched.z);
    const cancel = () => {
      endTry();
      dropOverlay();
    };
    return (
      from && { from, subject, show: (to) => tryPose(seen, to), keep: (to) => leavePose(seen, to), cancel }
    );
  }
  if (useView.getState().through !== "rover") return null;
  const { rover } = useView.getState();
  const from = { ...roverPlace(rover), pan: rover.bearing, tilt: -rover.height, roll: 0 };
  const show = (to: Touched) => useView.setState({ rover: roverTo({ ...from, ...to }, rover.distance) });
  return { from, subject: null, show, keep: show, cancel: () => useView.setState({ rover }) };
}

/**
 * The hand in the picture: the same gestures for the rover and for a camera. A drag looks about, with Shift it
 * slides, with the right button it goes round what it holds (with Shift it rolls); the wheel goes nearer. In the
 * rover's picture a drag on a body carries it.
 */
export function HandInPicture({
  grip,
  keys,
  dropped,
}: {
  grip: React.RefObject<Grip | null>;
  keys: React.RefObject<Keys | null>;
  dropped: React.RefObject<Dropped | null>;
}) {
  const { gl, camera, scene } = useThree();
  const eye = camera as import("three").PerspectiveCamera;
  const where = (x: number, y: number) => {
    // The next picture may not have been drawn yet: what is pointed at is what it will show.
    const [sight] = sights(1, 1);
    const box = gl.domElement.getBoundingClientRect();
    if (sight) stand(eye, sight, box.width, box.height);
    return new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
  };
  const pixels = () => gl.domElement.getBoundingClientRect();

  /** What is pointed at, and for a ride the place just off its surface. */
  const pointOutAt = (x: number, y: number, joint: boolean) => {
    const at = where(x, y);
    const off = heldPoint(scene, eye, at);
    const away = eye.position.clone().sub(off).setLength(MOUNTED_OFF);
    pointOut(pointedAt(scene, eye, at, joint), off.add(away));
  };

  const click = (hand: Hand) => {
    if (useView.getState().picking) return pointOutAt(hand.x, hand.y, hand.alt);
    const found = bodyAt(scene, eye, where(hand.x, hand.y));
    if (!found || "handle" in found) {
      if (!hand.shift) select(null);
    } else if (hand.shift) selectAlso(found.kind, found.id);
    else select(found.kind, [found.id]);
  };

  /** The menu of what is under a right press. */
  const openUnder = (hand: Hand) => {
    const found = bodyAt(scene, eye, where(hand.x, hand.y), true);
    const what = found && "kind" in found ? found : null;
    useView.setState({ under: { x: hand.x, y: hand.y, kind: what?.kind ?? null, id: what?.id ?? null } });
  };

  /** A piece's height, by the handle over it. */
  const raising = (id: string, at: Vector2): Held | null => {
    const piece = itemOf(storedScene(), "pieces", id);
    if (!piece) return null;
    const top = new Vector3(piece.x, piece.base + piece.height, piece.z);
    const lift = vertical(at, top);
    const command = (hand: Hand) => {
      const high = Math.max(0.01, piece.height + lift(hand));
      return { kind: "piece.set", piece: id, height: Math.round(high * 100) / 100 } as const;
    };
    return {
      move: (hand) => tryOut(command(hand), useMoment.getState().stage),
      drop: async (hand, moved) => {
        if (!moved) return;
        endTry();
        complain(await send(command(hand)));
      },
      cancel: () => {
        endTry();
        dropOverlay();
      },
    };
  };

  /** A part of a posed body, on a plane that faces the eye. */
  const bending = (id: string, part: Part, at: Vector2, place: Vector3): Held | null => {
    const figure = itemOf(useDocument.getState().scene, "figures", id);
    if (!figure) return null;
    const on = onPlane(
      new Plane().setFromNormalAndCoplanarPoint(eye.getWorldDirection(new Vector3()), place),
      at,
    );
    const by = (hand: Hand): [number, number, number] => {
      const { x, y, z } = on(...meant(hand));
      return [x, y, z];
    };
    const what = posing(figure, part);
    return {
      move: (hand) => {
        pause();
        what.show(by(hand));
      },
      drop: (hand, moved) => moved && void what.keep(by(hand)),
      cancel: what.drop,
    };
  };

  /** How far up the hand has come, metres, on an upright plane through a place. */
  const vertical = (at: Vector2, place: Vector3) => {
    const facing = eye.getWorldDirection(new Vector3()).setY(0).normalize();
    const on = onPlane(new Plane().setFromNormalAndCoplanarPoint(facing, place), at);
    return (hand: Hand) => on(...meant(hand)).y;
  };

  /** How far the hand has come on a plane, metres on the stage; the eye as it stood at the press. */
  const onPlane = (plane: Plane, at: Vector2) => {
    const still = eye.clone();
    const box = pixels();
    const meets = (x: number, y: number) => {
      const ray = new Raycaster();
      ray.setFromCamera(new Vector2(at.x + (2 * x) / box.width, at.y - (2 * y) / box.height), still);
      return ray.ray.intersectPlane(plane, new Vector3());
    };
    const start = meets(0, 0) ?? new Vector3();
    let last = start;
    return (x: number, y: number) => {
      // Beyond the horizon the floor ends: it stays where it was.
      const now = meets(x, y);
      if (now && now.distanceTo(still.position) < 200) last = now;
      return last.clone().sub(start);
    };
  };

  /** A body in the rover's picture: shown as it goes with the hand, kept where it is let go. */
  const taken = <T,>(what: Carried<T>, by: (hand: Hand) => T): Held => ({
    move: (hand) => {
      what.pick();
      what.show(by(hand));
    },
    drop: (hand, moved) => (moved ? void what.keep(by(hand)) : click(hand)),
    cancel: () => {
      endTry();
      dropOverlay();
    },
  });

  /** Carried over the floor; with Shift, in height. */
  const carrying = (what: Carried<By>, at: Vector2, place: Vector3, upright: boolean): Held => {
    const flat = onPlane(new Plane(new Vector3(0, 1, 0), -place.y), at);
    const lift = vertical(at, place);
    return taken(what, (hand) => {
      if (upright) return { dx: 0, dy: lift(hand), dz: 0, free: hand.alt };
      const { x, z } = flat(...meant(hand));
      return { dx: x, dy: 0, dz: z, free: hand.alt };
    });
  };

  const turning = (what: Carried<number>): Held =>
    taken(what, (hand) => hand.dx * TURNS * (hand.alt ? FINE : 1));

  const take = (e: ReactPointerEvent): Held | null => {
    const at = where(e.clientX, e.clientY);
    const [left, shift] = [e.button === 0, e.shiftKey];
    const { through, picking } = useView.getState();
    const found = left && !picking ? bodyAt(scene, eye, at) : null;
    if (found && "handle" in found && found.handle.part)
      return bending(found.handle.id, found.handle.part, at, found.at);
    if (left && through === "rover" && !picking) {
      if (found && "handle" in found) return raising(found.handle.id, at);
      const turns = found && e.ctrlKey && carries(found.kind, found.id) ? turnBy(found.kind, found.id) : null;
      if (turns) return turning(turns);
      const what = found && carries(found.kind, found.id) ? carry(found.kind, found.id) : null;
      if (found && what) return carrying(what, at, found.at, shift && found.kind !== "figure");
    }
    const moves = mover();
    const box = pixels();
    const still = eye.clone();
    const way = (dx: number, dy: number) =>
      wayOf(still, new Vector2(at.x + (2 * dx) / box.width, at.y - (2 * dy) / box.height));
    const subject = moves?.subject ?? null;
    const held = subject ? alongside(still, subject, way(0, 0)) : heldPoint(scene, eye, at);
    const next = (hand: Hand): Touched => {
      const from = moves?.from as Pose;
      const [dx, dy] = meant(hand);
      if (left)
        return shift
          ? slid(from, held, way(dx, dy), hand.ctrl && dy === 0)
          : looked(from, way(0, 0), way(dx, dy));
      if (shift) return rolled(from, way(0, 0), way(dx, dy));
      const round = rounded(from, subject ?? held, -dx * ROUND, dy * ROUND);
      return subject ? onlyPlace(round) : round;
    };
    return {
      move: (hand) => {
        pause();
        moves?.show(tidy(next(hand)));
      },
      drop: (hand, moved) => {
        if (!moved) return left ? click(hand) : openUnder(hand);
        void moves?.keep(tidy(next(hand)));
      },
      cancel: () => moves?.cancel(),
    };
  };

  /** The arrows do what a drag does, about what is in the middle of the picture. */
  const press = (e: React.KeyboardEvent) => {
    const middle = new Vector2(0, 0);
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    const nearer = { PageUp: 1 / NEARER, PageDown: NEARER }[e.key];
    const picks = e.key === "Enter" && useView.getState().picking;
    if (e.altKey || !(way || nearer || picks)) return;
    e.preventDefault();
    if (picks) {
      where(0, 0);
      return pointOut(pointedAt(scene, eye, middle));
    }
    pause();
    const { shiftKey: slide, ctrlKey, metaKey } = e;
    // One after the other, each from where the one before has left it.
    pressed = pressed.then(() => step(way, nearer, slide, ctrlKey || metaKey));
  };
  const step = (way: number[] | undefined, nearer: number | undefined, slide: boolean, round: boolean) => {
    const middle = new Vector2(0, 0);
    where(0, 0);
    const what = mover();
    if (!what) return;
    const { from } = what;
    const { subject } = what;
    const held = subject ?? heldPoint(scene, eye, middle);
    const [x, y] = way ?? [0, 0];
    const far = held.distanceTo(eye.position);
    const turned = rounded(from, held, x * TURN, y * TURN);
    const to = nearer
      ? dollied(from, held, 1 / nearer)
      : round
        ? subject
          ? onlyPlace(turned)
          : turned
        : slide
          ? slid(
              from,
              held,
              new Vector3(-x * STEP, -y * STEP, 0).multiplyScalar(far).add(inside(held)),
              y === 0,
            )
          : { pan: from.pan - x * TURN, tilt: from.tilt + y * TURN };
    return what.keep(tidy(to));
  };
  /** A place of the stage in the eye's own frame. */
  const inside = (place: Vector3) => place.clone().applyMatrix4(eye.matrixWorldInverse);

  /** Whoever takes the files in is told on which piece they fell. */
  const fell: Dropped = (e) => {
    const found = pointedAt(scene, eye, where(e.clientX, e.clientY));
    const piece = found.kind === "piece_at" ? found : null;
    useBringing.setState({ onto: piece && { piece: piece.piece, x: piece.x, z: piece.z } });
    if (piece) select("piece", [piece.piece]);
  };

  useEffect(() => {
    grip.current = take;
    keys.current = press;
    dropped.current = fell;
    return () => {
      grip.current = keys.current = dropped.current = null;
    };
  });

  const wheeled = useRef<{ what: NonNullable<ReturnType<typeof mover>>; held: Vector3; by: number } | null>(
    null,
  );
  useWheel(
    ({ event, delta: [, dy], first, last }) => {
      event.preventDefault();
      if (first || !wheeled.current) {
        const what = mover();
        if (!what) return;
        pause();
        const held = what.subject ?? heldPoint(scene, eye, where(event.clientX, event.clientY));
        wheeled.current = { what, held, by: 0 };
      }
      const { what, held } = wheeled.current;
      wheeled.current.by += dy * (event.altKey ? FINE : 1);
      const touched = tidy(dollied(what.from, held, Math.exp(wheeled.current.by * WHEEL)));
      if (last) {
        wheeled.current = null;
        void what.keep(touched);
      } else what.show(touched);
    },
    { target: { current: gl.domElement }, eventOptions: { passive: false } },
  );
  return null;
}
