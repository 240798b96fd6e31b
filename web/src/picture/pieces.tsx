import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import {
  BoxGeometry,
  type BufferGeometry,
  Color,
  EdgesGeometry,
  type InstancedMesh,
  type Material,
  MathUtils,
  Matrix4,
  Quaternion,
  Vector3,
} from "three";
import type { Piece } from "../api/types";
import { useDocument } from "../store/document";
import { sceneDrawn } from "../store/dressing";
import { standingPieces } from "../store/parts";
import { useVersions } from "../store/samples";
import { useView } from "../store/view";
import { loadModel, type Surface } from "./models";
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

interface Kind {
  geometry: BufferGeometry;
  pieces: Piece[];
  material: Material;
  /** It does not tell whether the pieces are there: another one of theirs does, or they are still to come. */
  beside?: boolean;
}

function OneKind({ geometry, pieces, material, beside = false }: Kind) {
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
    into.userData.beside = beside;
    into.layers.enable(CASTS);
    redraw();
  }, [pieces, beside]);
  return <instancedMesh key={pieces.length} ref={mesh} args={[geometry, material, pieces.length]} />;
}

/** Pieces that are one part of a file: as their boxes, until the file is there. */
function OfFile({
  file,
  part,
  pieces,
  box,
}: {
  file: string;
  part: number;
  pieces: Piece[];
  box: BufferGeometry;
}) {
  const [surfaces, setSurfaces] = useState<Surface[] | null | "missing">(null);
  const tries = useVersions((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another try is a reason to run
  useEffect(() => {
    let wanted = true;
    loadModel(file).then(
      (parts) => wanted && setSurfaces(parts[part] ?? "missing"),
      () => wanted && setSurfaces("missing"),
    );
    return () => {
      wanted = false;
    };
  }, [file, part, tries]);
  if (surfaces === null || surfaces === "missing")
    return <OneKind geometry={box} pieces={pieces} material={PAINT} beside={surfaces === null} />;
  return surfaces.map(({ geometry, material }, i) => (
    <OneKind key={geometry.id} geometry={geometry} pieces={pieces} material={material} beside={i > 0} />
  ));
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
  p.source
    ? `file ${p.source.file} ${p.source.part}`
    : `${p.kind === "backdrop" && p.finish === "trees" ? "trees" : p.kind} ${p.finish}`;

/** All set pieces: one draw for each kind and finish. */
export function Pieces() {
  const pieces = standingPieces(useDocument((s) => s.shown?.pieces));
  const geometries = useUnitPieces();
  const looks = useMemo(() => Object.entries(Object.groupBy(pieces, lookOf)), [pieces]);
  return looks.map(([look, group]) => {
    const [shape, finish, part] = look.split(" ");
    if (shape === "file")
      return (
        <OfFile key={look} file={finish} part={Number(part)} pieces={group as Piece[]} box={geometries.box} />
      );
    return (
      <OneKind
        key={look}
        geometry={geometries[shape]}
        pieces={group as Piece[]}
        material={PAINTS[finish as Piece["finish"]]}
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
