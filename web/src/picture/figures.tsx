import { useEffect, useMemo, useRef, useState } from "react";
import {
  type Bone,
  BufferGeometry,
  type Group,
  Line,
  LineBasicMaterial,
  type Mesh,
  type Object3D,
  type SkinnedMesh,
  Vector3,
} from "three";
import { clone } from "three/addons/utils/SkeletonUtils.js";
import { sightOf } from "../api/samples";
import type { Figure, Mover, Piece } from "../api/types";
import { useDocument } from "../store/document";
import { sceneDrawn, shotDrawn } from "../store/dressing";
import { boxOf, partsOf } from "../store/parts";
import { contentUrl } from "../store/past";
import { moverColumns, noteFailed, rowOf, useVersions } from "../store/samples";
import { useView } from "../store/view";
import { faceOf, poseFace, shapeFace } from "./face";
import { PoseHandles } from "./pose-handles";
import { registerHead } from "./renderer/heads";
import { usePosed } from "./renderer/posing";
import { redraw } from "./renderer/redraw";
import { OVER } from "./renderer/renderer";
import { loadGroup } from "./shapes";
import { MARKS } from "./sight";
import { standAt } from "./stand-at";

/** A copy of a shape from the server, loaded again when its content changes. */
function useShape(thing: string): Group | null {
  const id = useDocument((s) => s.id);
  const key = useDocument((s) => s.keys[`shape:${thing}`]);
  const tries = useVersions((s) => s.tries);
  const [shape, setShape] = useState<Group | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another try is a reason to run
  useEffect(() => {
    if (!key) return;
    let wanted = true;
    if (id === null) return;
    loadGroup(contentUrl(id, `shapes/${thing}.glb`, key)).then(
      (group) => {
        if (!wanted) return;
        noteFailed(`shape:${thing}`, null);
        setShape(clone(group) as Group);
        redraw();
      },
      () => wanted && noteFailed(`shape:${thing}`, "Its shape could not be fetched."),
    );
    return () => {
      wanted = false;
    };
  }, [id, thing, key, tries]);
  return shape;
}

/** Columns of a figure's row before its joints' turns begin: place, heading, the pelvis's place over it. */
const TURNS = 7;

function pose(bones: Bone[], skins: SkinnedMesh[], rest: Vector3[], row: Float32Array): void {
  const body = bones.filter((bone) => !faceOf(bone)).length;
  bones[0].position.set(row[0], row[1], row[2]);
  bones[1].position.set(row[4], row[5], row[6]);
  for (let i = 0; i < body; i++) bones[i].quaternion.fromArray(row, TURNS + 4 * i).normalize();
  const first = TURNS + 4 * body;
  for (let i = body; i < bones.length; i++) poseFace(bones[i], rest[i], row, first);
  for (const skin of skins) shapeFace(skin, row, first);
}

const TIP = new Vector3();

/** The line from somebody's eyes to what is looked at; a mark, so that no camera sees it. */
function eyeLine(): Line {
  const line = new Line(new BufferGeometry(), new LineBasicMaterial({ color: "#35597f" }));
  line.layers.set(MARKS);
  line.frustumCulled = false;
  return line;
}

const SPOT = new Vector3();
/** A head drawn so small that nothing of it is seen. */
const GONE = 1e-4;

function Body({ figure }: { figure: Figure }) {
  const shape = useShape(figure.id);
  const ring = useRef<Mesh>(null);
  const dot = useRef<Mesh>(null);
  const proxy = useRef<Mesh>(null);
  const skins = useMemo(() => skinsOf(shape), [shape]);
  const bones = useMemo(() => bonesOf(skins), [skins]);
  const rest = useMemo(() => bones.map((bone) => bone.position.clone()), [bones]);
  const sight = useMemo(eyeLine, []);
  const selected = useView((s) => s.kind === "figure" && s.ids.includes(figure.id));
  const joint = useView((s) => (s.kind === "figure" && s.ids[0] === figure.id ? s.joint : null));
  useEffect(() => {
    const head = bones.find((b) => b.name === "head");
    return head && registerHead(figure.id, (shown) => head.scale.setScalar(shown ? 1 : GONE));
  }, [bones, figure.id]);
  usePosed((frame) => {
    const hidden = Boolean(sceneDrawn()?.figures.find((one) => one.id === figure.id)?.hidden);
    if (shape) shape.visible = !hidden;
    // What is not seen is not met by a hand either.
    if (proxy.current) proxy.current.layers.mask = hidden ? 0 : 1;
    const row = rowOf(figure.id, frame);
    if (!row || bones.length === 0) return;
    pose(bones, skins, rest, row);
    const [eyes, seen] = sightOf(row);
    sight.geometry.setFromPoints([TIP.fromArray(eyes).clone(), TIP.fromArray(seen).clone()]);
    ring.current?.position.set(row[0], row[1] + 0.02, row[2]);
    proxy.current?.position.set(row[0], row[1] + figure.stature / 2, row[2]);
    proxy.current?.updateMatrixWorld();
    if (dot.current && joint) {
      bones[0].updateMatrixWorld(true);
      const bone = bones.find((b) => b.name === joint);
      if (bone) dot.current.position.copy(bone.getWorldPosition(SPOT));
      dot.current.visible = !!bone;
    }
  });
  return (
    <>
      {shape && <primitive object={shape} userData={{ owner: { kind: "figure", id: figure.id } }} />}
      <mesh ref={proxy} visible={false} userData={{ pick: { kind: "figure", ids: [figure.id] } }}>
        <boxGeometry args={[0.55, figure.stature, 0.55]} />
      </mesh>
      <primitive object={sight} />
      {selected && (
        <mesh layers={MARKS} ref={ring} rotation={[-Math.PI / 2, 0, 0]} renderOrder={4}>
          <ringGeometry args={[0.36, 0.42, 40]} />
          <meshBasicMaterial color="#35597f" depthTest={false} transparent />
        </mesh>
      )}
      {selected && <PoseHandles figure={figure} bones={bones} />}
      {joint && (
        <mesh ref={dot} renderOrder={9} visible={false} layers={OVER}>
          <sphereGeometry args={[0.035, 16, 12]} />
          <meshBasicMaterial color="#ff00ff" depthTest={false} transparent fog={false} toneMapped={false} />
        </mesh>
      )}
    </>
  );
}

export function Figures() {
  const figures = useDocument((s) => s.shown?.figures);
  return figures?.map((figure) => <Body key={figure.id} figure={figure} />);
}

function skinsOf(shape: Group | null): SkinnedMesh[] {
  const found: SkinnedMesh[] = [];
  shape?.traverse((node: Object3D) => {
    if ((node as SkinnedMesh).isSkinnedMesh) found.push(node as SkinnedMesh);
  });
  return found;
}

/** The joints of a shape that has any. */
const bonesOf = (skins: SkinnedMesh[]): Bone[] => skins[0]?.skeleton.bones ?? [];

/** A mover's shape, as the stage has it or as a shot has it for itself: seen in pictures of that alone. */
function MoverShape({ mover, shot }: { mover: Mover; shot: string | null }) {
  const shape = useShape(shot ? `own:${shot}:${mover.id}` : mover.id);
  const bones = useMemo(() => bonesOf(skinsOf(shape)), [shape]);
  const level = useMemo(() => bones[1]?.position.y ?? 0, [bones]);
  usePosed((frame) => {
    if (!shape) return;
    const of = shotDrawn();
    const own = of !== null && `shape:own:${of}:${mover.id}` in useDocument.getState().keys;
    shape.visible = (own ? of : null) === shot;
    const row = rowOf(mover.id, frame);
    if (!row || bones.length === 0 || !shape.visible) return;
    const columns = moverColumns();
    for (let i = 1; i < bones.length; i++)
      bones[i].quaternion.fromArray(row, columns["joint0.x"] + 4 * i).normalize();
    bones[1].position.y = level - row[columns.sink];
  });
  return shape && <primitive object={shape} userData={{ owner: { kind: "mover", id: mover.id } }} />;
}

function Thing({ mover, parts }: { mover: Mover; parts: Piece[] }) {
  const group = useRef<Group>(null);
  const box = useRef<Mesh>(null);
  const keys = useDocument((s) => s.keys);
  const shots = useDocument((s) => s.scene?.shots);
  const own = shots?.filter(({ id }) => `shape:own:${id}:${mover.id}` in keys) ?? [];
  usePosed((frame) => {
    const row = rowOf(mover.id, frame);
    if (!row || !group.current) return;
    group.current.visible = !sceneDrawn()?.movers.find((one) => one.id === mover.id)?.hidden;
    if (box.current) box.current.layers.mask = group.current.visible ? 1 : 0;
    standAt(group.current, row, moverColumns());
  });
  const { middle, size } = boxOf(mover, parts);
  return (
    <group ref={group}>
      <MoverShape mover={mover} shot={null} />
      {own.map(({ id }) => (
        <MoverShape key={id} mover={mover} shot={id} />
      ))}
      <mesh
        ref={box}
        visible={false}
        position={middle}
        userData={{ pick: { kind: "mover", ids: [mover.id] } }}
      >
        <boxGeometry args={size} />
      </mesh>
    </group>
  );
}

export function Movers() {
  const movers = useDocument((s) => s.shown?.movers);
  const scene = useDocument((s) => s.shown);
  return movers?.map((mover) => <Thing key={mover.id} mover={mover} parts={partsOf(scene, mover.id)} />);
}
