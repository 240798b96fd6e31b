import { useLayoutEffect, useMemo, useRef } from "react";
import {
  BoxGeometry,
  type BufferGeometry,
  Color,
  EdgesGeometry,
  type InstancedMesh,
  MathUtils,
  Matrix4,
  Quaternion,
  Vector3,
} from "three";
import type { Piece } from "../api/types";
import { useDocument } from "../store/document";
import { sceneDrawn } from "../store/dressing";
import { standingPieces } from "../store/parts";
import { useView } from "../store/view";
import { BOARDS, LIT, PAINT } from "./renderer/paint";
import { usePosed } from "./renderer/posing";
import { redraw } from "./renderer/redraw";
import { CASTS } from "./renderer/shadow";
import { useUnitPieces } from "./shapes";
import { MARKS } from "./sight";

const UP = new Vector3(0, 1, 0);
const BOX = new EdgesGeometry(new BoxGeometry(1, 1, 1).translate(0, 0.5, 0));

function matrixOf(piece: Piece): Matrix4 {
  if (piece.hidden) return new Matrix4().makeScale(0, 0, 0);
  return new Matrix4().compose(
    new Vector3(piece.x, piece.base, piece.z),
    new Quaternion().setFromAxisAngle(UP, MathUtils.degToRad(piece.heading)),
    new Vector3(piece.width, piece.height, piece.depth),
  );
}

function OneKind({
  geometry,
  pieces,
  finish,
}: {
  geometry: BufferGeometry;
  pieces: Piece[];
  finish: Piece["finish"];
}) {
  const mesh = useRef<InstancedMesh>(null);
  const placed = useRef<Piece[] | null>(null);
  const put = (into: InstancedMesh) => {
    const drawn = sceneDrawn()?.pieces ?? null;
    if (drawn === placed.current) return;
    placed.current = drawn;
    const there = byId(drawn ?? []);
    const colour = new Color();
    pieces.forEach((one, i) => {
      const piece = there.get(one.id) ?? one;
      into.setMatrixAt(i, matrixOf(piece));
      into.setColorAt(i, colour.set(piece.colour));
    });
    into.instanceMatrix.needsUpdate = true;
    if (into.instanceColor) into.instanceColor.needsUpdate = true;
    into.computeBoundingSphere();
  };
  // A shot may have pieces elsewhere, or hidden, for itself.
  usePosed(() => mesh.current && put(mesh.current));
  // biome-ignore lint/correctness/useExhaustiveDependencies: they are put anew when they are others
  useLayoutEffect(() => {
    const into = mesh.current;
    if (!into) return;
    placed.current = null;
    put(into);
    into.userData.pick = { kind: "piece", ids: pieces.map((p) => p.id) };
    into.layers.enable(CASTS);
    redraw();
  }, [pieces]);
  return <instancedMesh key={pieces.length} ref={mesh} args={[geometry, PAINTS[finish], pieces.length]} />;
}

const known = new WeakMap<Piece[], Map<string, Piece>>();

function byId(pieces: Piece[]): Map<string, Piece> {
  const found = known.get(pieces) ?? new Map(pieces.map((piece) => [piece.id, piece]));
  known.set(pieces, found);
  return found;
}

const PAINTS = { plain: PAINT, trees: PAINT, boards: BOARDS, lit: LIT };

/** What is drawn in one go: pieces of a shape and a finish. */
const lookOf = (p: Piece): string =>
  `${p.kind === "backdrop" && p.finish === "trees" ? "trees" : p.kind} ${p.finish}`;

/** All set pieces: one draw for each kind and finish. */
export function Pieces() {
  const pieces = standingPieces(useDocument((s) => s.shown?.pieces));
  const geometries = useUnitPieces();
  const looks = useMemo(() => Object.entries(Object.groupBy(pieces, lookOf)), [pieces]);
  return looks.map(([look, group]) => {
    const [shape, finish] = look.split(" ");
    return (
      <OneKind
        key={look}
        geometry={geometries[shape]}
        pieces={group as Piece[]}
        finish={finish as Piece["finish"]}
      />
    );
  });
}

/** Outlines of what is selected, and a handle on the top of a single piece; for the rover only. */
export function SelectedPieces() {
  const pieces = standingPieces(useDocument((s) => s.shown?.pieces));
  const ids = useView((s) => (s.kind === "piece" ? s.ids : null));
  const chosen = ids ? pieces.filter((p) => ids.includes(p.id)) : [];
  const one = chosen.length === 1 ? chosen[0] : null;
  return (
    <>
      {chosen.map((piece) => (
        <lineSegments
          layers={MARKS}
          key={piece.id}
          geometry={BOX}
          matrixAutoUpdate={false}
          matrix={matrixOf(piece)}
          renderOrder={5}
        >
          <lineBasicMaterial color="#35597f" depthTest={false} transparent opacity={0.9} />
        </lineSegments>
      ))}
      {one && (
        <mesh
          layers={MARKS}
          position={[one.x, one.base + one.height + 0.3, one.z]}
          renderOrder={6}
          userData={{ handle: { what: "height", id: one.id } }}
        >
          <coneGeometry args={[0.14, 0.36, 12]} />
          <meshBasicMaterial color="#a96f12" depthTest={false} transparent />
        </mesh>
      )}
    </>
  );
}
