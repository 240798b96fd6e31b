import { useFrame } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  type Group,
  Line,
  LineBasicMaterial,
  type LineSegments,
  MathUtils,
  type PerspectiveCamera,
  type Sprite,
  SRGBColorSpace,
} from "three";
import { placesOf } from "../api/samples";
import { type Camera, POSE } from "../api/types";
import { useDocument } from "../store/document";
import { hue, onHue } from "../store/hues";
import { keysOf } from "../store/keys";
import { useMoment } from "../store/moment";
import { cameraColumns, samplesOf, useVersion } from "../store/samples";
import { useOnAir } from "../store/seen";
import { cameraRow } from "../store/unsaved";
import { useView } from "../store/view";
import { paint } from "./renderer/paint";
import { MARKS } from "./sight";
import { standAt } from "./stand-at";

const REACH = 1.3;
/** A letter in the picture is never smaller, pixels. */
const LEAST = 17;
const BODY = paint({ tint: "#4a4a48" });
const BODY_CHOSEN = paint({ tint: "#35597f" });
const BARREL = paint({ tint: "#2b2b2a" });

function letterPicture(letter: string, air: boolean): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 64;
  const pen = canvas.getContext("2d") as CanvasRenderingContext2D;
  pen.fillStyle = hue(letter);
  pen.beginPath();
  pen.roundRect(2, 2, 60, 60, 10);
  pen.fill();
  pen.fillStyle = onHue(letter);
  pen.font = "600 40px Barlow, sans-serif";
  pen.textAlign = "center";
  pen.textBaseline = "middle";
  pen.fillText(letter, 32, 34);
  if (air) {
    pen.lineWidth = 7;
    pen.strokeStyle = "#ffffff";
    pen.stroke();
    pen.lineWidth = 3;
    pen.strokeStyle = "#22282e";
    pen.stroke();
  }
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  return texture;
}

/** A camera on the stage: a body, its letter, and lines along the edges of what it sees. */
function CameraBody({ camera }: { camera: Camera }) {
  const group = useRef<Group>(null);
  const edges = useRef<LineSegments>(null);
  const label = useRef<Sprite>(null);
  const body = useRef<Group>(null);
  const air = useOnAir() === camera.id;
  const texture = useMemo(() => letterPicture(camera.letter, air), [camera.letter, air]);
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(16 * 3), 3));
    return made;
  }, []);
  useEffect(() => () => texture.dispose(), [texture]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const selected = useView((s) => s.kind === "camera" && s.ids.includes(camera.id));
  const colour = hue(camera.letter);
  useFrame(({ camera: eye, size: room }) => {
    const rover = eye as PerspectiveCamera;
    const row = cameraRow(camera.id, useMoment.getState().stage);
    if (!row || !group.current) return;
    const of = cameraColumns();
    standAt(group.current, row, of);
    // Never smaller than can be read: what is far off stands larger.
    const far = rover.position.distanceTo(group.current.position);
    const high = (LEAST * 2 * far * Math.tan(MathUtils.degToRad(rover.fov / 2))) / Math.max(room.height, 1);
    const size = Math.max(high, air ? 0.42 : 0.34);
    label.current?.scale.set(size, size, 1);
    label.current?.position.setY(0.2 + size / 2);
    const grown = Math.max(1, high / 0.34);
    body.current?.scale.setScalar(grown);
    const w = Math.tan(MathUtils.degToRad(row[of.horizontal_deg] / 2)) * REACH;
    const h = Math.tan(MathUtils.degToRad(row[of.vertical_deg] / 2)) * REACH;
    const corners = [
      [-w, -h],
      [w, -h],
      [w, h],
      [-w, h],
    ];
    const at = geometry.getAttribute("position") as BufferAttribute;
    corners.forEach(([cx, cy], i) => {
      const [nx, ny] = corners[(i + 1) % 4];
      at.setXYZ(4 * i, 0, 0, 0);
      at.setXYZ(4 * i + 1, cx, cy, -REACH);
      at.setXYZ(4 * i + 2, cx, cy, -REACH);
      at.setXYZ(4 * i + 3, nx, ny, -REACH);
    });
    at.needsUpdate = true;
  });
  return (
    <group ref={group}>
      <group ref={body}>
        <mesh
          layers={MARKS}
          userData={{ pick: { kind: "camera", ids: [camera.id] } }}
          position={[0, 0, 0.14]}
        >
          <boxGeometry args={[0.18, 0.22, 0.32]} />
          <primitive object={selected ? BODY_CHOSEN : BODY} attach="material" />
        </mesh>
        <mesh layers={MARKS} position={[0, 0, -0.07]} rotation={[Math.PI / 2, 0, 0]}>
          <cylinderGeometry args={[0.055, 0.085, 0.14, 14]} />
          <primitive object={BARREL} attach="material" />
        </mesh>
      </group>
      <lineSegments layers={MARKS} ref={edges} geometry={geometry} frustumCulled={false}>
        <lineBasicMaterial color={colour} transparent opacity={selected ? 1 : 0.55} />
      </lineSegments>
      <sprite layers={MARKS} ref={label} position={[0, 0.36, 0.1]} renderOrder={7}>
        <spriteMaterial map={texture} depthTest={false} fog={false} />
      </sprite>
    </group>
  );
}

/** The path a keyed camera takes, with a tick on every frame and its keys in ochre. */
function CameraPath({ camera }: { camera: Camera }) {
  const version = useVersion(camera.id);
  // As one text, so that keys which only change their value make nothing again.
  const keyed = useMemo(
    () =>
      keysOf(camera, POSE)
        .map((k) => k.frame)
        .join(" "),
    [camera],
  );
  const carried = camera.layers.some((layer) => !layer.off);
  const { id, letter } = camera;
  const made = useMemo(() => {
    void version;
    const samples = samplesOf(id);
    const frames = keyed.split(" ").filter(Boolean).map(Number);
    if (!samples || (frames.length < 2 && !carried)) return null;
    // A layer may carry it all along; its keys from the first to the last.
    const [first, last] = carried
      ? [samples.first, samples.last]
      : [Math.max(Math.min(...frames), samples.first), Math.min(Math.max(...frames), samples.last)];
    const places = placesOf(samples);
    const at = (f: number) => 3 * (f - samples.first);
    const points = places.slice(at(first), at(last + 1));
    const path = new BufferGeometry().setAttribute("position", new BufferAttribute(points, 3));
    const there = frames.filter((f) => samples.first <= f && f <= samples.last);
    const stands = Float32Array.from(there.flatMap((f) => [...places.subarray(at(f), at(f) + 3)]));
    const keys = new BufferGeometry().setAttribute("position", new BufferAttribute(stands, 3));
    const line = new Line(path, new LineBasicMaterial({ color: hue(letter) }));
    line.frustumCulled = false;
    line.layers.set(MARKS);
    return { path, line, keys };
  }, [id, letter, keyed, carried, version]);
  useEffect(
    () => () => {
      made?.path.dispose();
      made?.keys.dispose();
      (made?.line.material as LineBasicMaterial | undefined)?.dispose();
    },
    [made],
  );
  if (!made) return null;
  return (
    <>
      <primitive object={made.line} />
      <points layers={MARKS} geometry={made.path} frustumCulled={false}>
        <pointsMaterial color={hue(letter)} size={3} sizeAttenuation={false} />
      </points>
      <points layers={MARKS} geometry={made.keys} frustumCulled={false}>
        <pointsMaterial color="#a96f12" size={7} sizeAttenuation={false} />
      </points>
    </>
  );
}

/** Cameras as the rover sees them. */
export function CameraBodies() {
  const cameras = useDocument((s) => s.shown?.cameras);
  return cameras
    ?.filter((camera) => !camera.hidden)
    .map((camera) => (
      <group key={camera.id}>
        <CameraBody camera={camera} />
        <CameraPath camera={camera} />
      </group>
    ));
}
