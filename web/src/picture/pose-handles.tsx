import { useEffect, useRef } from "react";
import {
  type Bone,
  type Camera,
  type Group,
  MathUtils,
  type Object3D,
  type PerspectiveCamera,
  Vector3,
} from "three";
import type { Figure } from "../api/types";
import { PARTS, poseInHand, useHandles } from "../store/handles";
import { useMoment } from "../store/moment";
import { useView } from "../store/view";
import { usePosed } from "./renderer/posing";
import { redraw } from "./renderer/redraw";
import { OVER } from "./renderer/renderer";

const SPOT = new Vector3();
/** Radius of a handle as a share of half the picture's height. */
const SEEN = 0.036;

/** As large in every picture, whatever lens it is seen through. */
function sized(this: Object3D, _: unknown, __: unknown, camera: Camera): void {
  const eye = camera as PerspectiveCamera;
  const far = this.getWorldPosition(SPOT).distanceTo(eye.position);
  this.scale.setScalar(SEEN * far * Math.tan(MathUtils.degToRad(eye.fov) / 2));
  this.updateMatrixWorld();
}

/** What a selected figure is posed by: a ball on each part that can be dragged, while a pose is under way. */
export function PoseHandles({ figure, bones }: { figure: Figure; bones: Bone[] }) {
  const acts = useView((s) => s.acts);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  return poseInHand(figure, stage, acts) && !playing ? <Handles figure={figure} bones={bones} /> : null;
}

function Handles({ figure, bones }: { figure: Figure; bones: Bone[] }) {
  const group = useRef<Group>(null);
  useEffect(() => {
    useHandles.setState({ figure: figure.id });
    redraw();
    return () => {
      useHandles.setState({ figure: null });
      redraw();
    };
  }, [figure.id]);
  usePosed(() => {
    if (!group.current || bones.length === 0) return;
    bones[0].updateMatrixWorld(true);
    const places: Record<string, [number, number, number]> = {};
    PARTS.forEach(([part, joint], i) => {
      const bone = bones.find((one) => one.name === joint);
      if (!bone) return;
      const at = bone.getWorldPosition(SPOT);
      group.current?.children[i].position.copy(at);
      places[part] = [at.x, at.y, at.z];
    });
    const was = useHandles.getState().places;
    const moved = PARTS.some(
      ([part]) => was[part]?.some((v, i) => Math.abs(v - places[part][i]) > 1e-4) ?? true,
    );
    if (moved) useHandles.setState({ places });
  });
  return (
    <group ref={group}>
      {PARTS.map(([part]) => (
        <mesh
          key={part}
          layers={OVER}
          renderOrder={10}
          frustumCulled={false}
          onBeforeRender={sized}
          userData={{ handle: { id: figure.id, part } }}
        >
          <sphereGeometry args={[1, 16, 12]} />
          <meshBasicMaterial
            color="#e2a52c"
            depthTest={false}
            transparent
            opacity={0.9}
            fog={false}
            toneMapped={false}
          />
        </mesh>
      ))}
    </group>
  );
}
