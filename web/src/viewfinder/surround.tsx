import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { BackSide, Color, type DirectionalLight, MathUtils, type Mesh, ShaderMaterial, Vector3 } from "three";
import type { Scene } from "../api/types";
import { useDocument } from "../store/document";
import { useView } from "../store/view";

const REACH = 17;

/** The middle of the action, which the sun's shadows are drawn round. */
function middle(scene: Scene): Vector3 {
  const places = scene.figures.flatMap((f) => [
    [f.x, f.z],
    ...f.acts.flatMap((a) => (a.kind === "walk" ? (a.points as number[][]) : [])),
  ]);
  if (places.length === 0) return new Vector3();
  const [x, z] = [0, 1].map(
    (i) => (Math.min(...places.map((p) => p[i])) + Math.max(...places.map((p) => p[i]))) / 2,
  );
  return new Vector3(x, 0, z);
}

function skyPaint(low: string, high: string): ShaderMaterial {
  return new ShaderMaterial({
    side: BackSide,
    depthWrite: false,
    fog: false,
    uniforms: { low: { value: new Color(low) }, high: { value: new Color(high) } },
    vertexShader: `varying vec3 way;
      void main() { way = position; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`,
    fragmentShader: `uniform vec3 low; uniform vec3 high; varying vec3 way;
      void main() {
        float up = clamp(normalize(way).y, 0.0, 1.0);
        gl_FragColor = vec4(mix(low, high, smoothstep(0.0, 0.42, up)), 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** Ground to the horizon, sky, sun and the light between them. */
export function SurroundOfStage() {
  const surround = useDocument((s) => s.shown?.surround);
  const scene = useDocument((s) => s.shown);
  const rover = useView((s) => s.through === "rover");
  const { camera, scene: root } = useThree();
  const dome = useRef<Mesh>(null);
  const sun = useRef<DirectionalLight>(null);
  const paint = useMemo(() => (surround ? skyPaint(surround.sky_low, surround.sky_high) : null), [surround]);
  const centre = useMemo(() => (scene ? middle(scene) : new Vector3()), [scene]);
  useFrame(() => dome.current?.position.copy(camera.position));
  useEffect(() => {
    if (!sun.current || !surround) return;
    const b = MathUtils.degToRad(surround.sun_bearing);
    const h = MathUtils.degToRad(surround.sun_height);
    const far = 40;
    sun.current.position.set(
      centre.x - Math.sin(b) * Math.cos(h) * far,
      Math.sin(h) * far,
      centre.z - Math.cos(b) * Math.cos(h) * far,
    );
    sun.current.target.position.copy(centre);
    root.add(sun.current.target);
    sun.current.target.updateMatrixWorld();
  }, [surround, centre, root]);
  if (!surround || !paint) return null;
  return (
    <>
      <fog attach="fog" args={[surround.sky_low, 30, 230]} />
      <mesh ref={dome} material={paint} renderOrder={-10} frustumCulled={false}>
        <sphereGeometry args={[1000, 24, 16]} />
      </mesh>
      <mesh rotation={[-Math.PI / 2, 0, 0]} receiveShadow>
        <circleGeometry args={[2000, 48]} />
        <meshLambertMaterial color={surround.ground} />
      </mesh>
      {rover && (
        <gridHelper args={[40, 40, "#5d6a70", "#7f8a8c"]} position={[0, 0.006, 0]}>
          <lineBasicMaterial attach="material" color="#69757a" transparent opacity={0.28} fog />
        </gridHelper>
      )}
      <hemisphereLight args={[surround.sky_high, surround.ground, 2.7]} />
      <directionalLight
        ref={sun}
        color="#fff1d8"
        intensity={3.3}
        castShadow
        shadow-mapSize={[2048, 2048]}
        shadow-camera-left={-REACH}
        shadow-camera-right={REACH}
        shadow-camera-top={REACH}
        shadow-camera-bottom={-REACH}
        shadow-camera-near={1}
        shadow-camera-far={90}
        shadow-bias={-0.0006}
        shadow-normalBias={0.03}
      />
    </>
  );
}
