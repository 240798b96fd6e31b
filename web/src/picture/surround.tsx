import { useFrame, useThree } from "@react-three/fiber";
import { useLayoutEffect, useMemo, useRef } from "react";
import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  Color,
  MathUtils,
  type Mesh,
  ShaderMaterial,
  Vector3,
} from "three";
import type { Scene } from "../api/types";
import { useDocument } from "../store/document";
import { sceneDrawn } from "../store/dressing";
import { LIGHT, paint } from "./renderer/paint";
import { usePosed } from "./renderer/posing";
import { redraw } from "./renderer/redraw";
import { aimSun } from "./renderer/shadow";
import { water } from "./renderer/water";
import { MARKS } from "./sight";

/** Brightness of the sky and of the sun on a white thing that faces them. */
const SKY = 0.86;
const SUN = 1.05;

/** The floor to the horizon in rings, since triangles that reach from underfoot to far away are drawn inexactly. */
const FLOOR = floor([0, 1.5, 4, 10, 25, 60, 150, 400, 2000], 48);

function floor(radii: number[], sides: number): BufferGeometry {
  const points: number[] = [];
  const index: number[] = [];
  radii.forEach((r, ring) => {
    for (let i = 0; i < sides; i++) {
      const a = (2 * Math.PI * i) / sides;
      points.push(r * Math.cos(a), 0, -r * Math.sin(a));
      if (ring === 0) continue;
      const [inner, outer, next] = [(ring - 1) * sides, ring * sides, (i + 1) % sides];
      index.push(inner + i, outer + i, outer + next, inner + i, outer + next, inner + next);
    }
  });
  const made = new BufferGeometry();
  made.setAttribute("position", new BufferAttribute(new Float32Array(points), 3));
  made.setAttribute(
    "normal",
    new BufferAttribute(new Float32Array(points.map((_, i) => (i % 3 === 1 ? 1 : 0))), 3),
  );
  made.setIndex(index);
  return made;
}

/** The middle of the action, which the sun's shadows are drawn round. */
function middle(figures: Scene["figures"]): Vector3 {
  const places = figures.flatMap((f) => [
    [f.x, f.z],
    ...f.acts.flatMap((a) => (a.kind === "walk" || a.kind === "run" ? (a.points as number[][]) : [])),
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
    uniforms: {
      gain: LIGHT.gain,
      sunWay: LIGHT.sunWay,
      sunLight: LIGHT.sunLight,
      haze: LIGHT.haze,
      low: { value: new Color(low) },
      high: { value: new Color(high) },
    },
    vertexShader: `varying vec3 way;
      void main() {
        way = position;
        // At the far end of the picture's depth: drawn last, only where nothing stands before it.
        gl_Position = (projectionMatrix * modelViewMatrix * vec4(position, 1.0)).xyww;
      }`,
    fragmentShader: `uniform vec3 low, high, haze, sunWay, sunLight; uniform float gain; varying vec3 way;
      void main() {
        vec3 there = normalize(way);
        float up = clamp(there.y, 0.0, 1.0);
        vec3 sky = mix(low, high, smoothstep(0.0, 0.42, up));
        // Round the sun it is brighter, and what is low is lost in the haze.
        float toSun = max(dot(there, sunWay), 0.0);
        sky += sunLight * (0.10 * pow(toSun, 3.0) + 0.16 * pow(toSun, 24.0));
        sky = mix(haze, sky, smoothstep(-0.01, 0.09, there.y));
        gl_FragColor = vec4(sky * gain, 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** Set sun, sky and haze; the sun's shadows are drawn round a centre. */
function lightBy(surround: NonNullable<Scene["surround"]>, centre: Vector3): void {
  const b = MathUtils.degToRad(surround.sun_bearing);
  const h = MathUtils.degToRad(surround.sun_height);
  aimSun(new Vector3(-Math.sin(b) * Math.cos(h), Math.sin(h), -Math.cos(b) * Math.cos(h)), centre);
  LIGHT.sunLight.value.set("#fff1d8").multiplyScalar(SUN);
  LIGHT.skyLight.value.set(surround.sky_high).multiplyScalar(SKY);
  LIGHT.groundLight.value.set(surround.ground).multiplyScalar(SKY);
  LIGHT.fillLight.value.set(surround.sky_low).multiplyScalar(SKY * surround.fill);
  LIGHT.rimLight.value.set("#fff1d8").multiplyScalar(SUN * surround.rim);
  LIGHT.haze.value.set(surround.sky_low);
  LIGHT.hazeHalf.value = surround.haze_m;
}

/** Ground to the horizon, sky, sun and the light between them. */
export function SurroundOfStage() {
  const surround = useDocument((s) => s.shown?.surround);
  const figures = useDocument((s) => s.shown?.figures);
  const camera = useThree((s) => s.camera);
  const dome = useRef<Mesh>(null);
  const sky = useMemo(() => (surround ? skyPaint(surround.sky_low, surround.sky_high) : null), [surround]);
  const ground = useMemo(
    () =>
      surround?.water
        ? water(surround.ground, surround.sky_low, surround.sky_high)
        : paint({ tint: surround?.ground }),
    [surround?.water, surround?.ground, surround?.sky_low, surround?.sky_high],
  );
  const centre = useMemo(() => (figures ? middle(figures) : new Vector3()), [figures]);
  useFrame(() => dome.current?.position.copy(camera.position));
  const lit = useRef<Scene["surround"] | null>(null);
  const light = () => {
    const now = sceneDrawn()?.surround;
    if (!now || now === lit.current) return;
    lit.current = now;
    lightBy(now, centre);
  };
  // A shot may have its own light.
  usePosed(light);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is lit anew where these are others
  useLayoutEffect(() => {
    lit.current = null;
    light();
    redraw();
  }, [surround, centre]);
  if (!surround || !sky) return null;
  return (
    <>
      <mesh ref={dome} material={sky} renderOrder={10} frustumCulled={false}>
        <sphereGeometry args={[1000, 24, 16]} />
      </mesh>
      <mesh geometry={FLOOR} material={ground} userData={{ focus: true }} />
      <gridHelper layers={MARKS} args={[40, 40, "#5d6a70", "#7f8a8c"]} position={[0, 0.006, 0]}>
        <lineBasicMaterial attach="material" color="#69757a" transparent opacity={0.28} fog />
      </gridHelper>
    </>
  );
}
