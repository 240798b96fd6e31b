import { useRef } from "react";
import { type Bone, type Group, Vector3 } from "three";
import type { Figure } from "../api/types";
import { PARTS, poseInHand, useHandles } from "../store/handles";
import { useMoment } from "../store/moment";
import { roverPlace } from "../store/rover";
import { useView } from "../store/view";
import { usePosed } from "./renderer/posing";
import { MARKS } from "./sight";

const SPOT = new Vector3();
const FROM = new Vector3();
/** Radius of a handle as a share of how far off the rover is: as large in every picture. */
const SEEN = 0.014;

/** What a selected figure is posed by: a ball on each part that can be dragged, while a pose is under way. */
export function PoseHandles({ figure, bones }: { figure: Figure; bones: Bone[] }) {
  const acts = useView((s) => s.acts);
  const stage = useMoment((s) => s.stage);
  const group = useRef<Group>(null);
  const shown = poseInHand(figure, stage, acts) !== undefined;
  usePosed(() => {
    if (!group.current || bones.length === 0) return;
    bones[0].updateMatrixWorld(true);
    const eye = roverPlace(useView.getState().rover);
    const places: Record<string, [number, number, number]> = {};
    PARTS.forEach(([part, joint], i) => {
      const bone = bones.find((one) => one.name === joint);
      if (!bone) return;
      const at = bone.getWorldPosition(SPOT);
      const handle = group.current?.children[i];
      handle?.position.copy(at);
      const far = at.distanceTo(FROM.set(eye.x, eye.y, eye.z));
      handle?.scale.setScalar(SEEN * far);
      places[part] = [at.x, at.y, at.z];
    });
    const was = useHandles.getState();
    const moved = PARTS.some(
      ([part]) => was.places[part]?.some((v, i) => Math.abs(v - places[part][i]) > 1e-4) ?? true,
    );
    if (was.figure !== figure.id || moved) useHandles.setState({ figure: figure.id, places });
  });
  if (!shown) return null;
  return (
    <group ref={group}>
      {PARTS.map(([part]) => (
        <mesh key={part} layers={MARKS} renderOrder={10} userData={{ handle: { id: figure.id, part } }}>
          <sphereGeometry args={[1, 16, 12]} />
          <meshBasicMaterial color="#e2a52c" depthTest={false} transparent opacity={0.9} fog={false} />
        </mesh>
      ))}
    </group>
  );
}
