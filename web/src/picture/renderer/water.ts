import { Color, ShaderMaterial } from "three";
import { MIRROR } from "./mirror";
import { LAMPS_IN_PAINT, LIGHT, lampsOn } from "./paint";

/** Still water to the horizon: sky and stage in it, a dark depth, a slow ripple that is the same wherever playback starts. */
export function water(depth: string, low: string, high: string): ShaderMaterial {
  const made = new ShaderMaterial({
    uniforms: {
      ...LIGHT,
      ...MIRROR,
      depth: { value: new Color(depth).multiplyScalar(0.32) },
      low: { value: new Color(low) },
      high: { value: new Color(high) },
    },
    vertexShader: /* glsl */ `
      uniform mat4 toShade, toMirror;
      varying vec3 vPlace, vShade;
      varying vec4 vMirror;
      varying float vDeep;
      void main() {
        vec4 place = modelMatrix * vec4(position, 1.0);
        vPlace = place.xyz;
        vShade = (toShade * place).xyz;
        vMirror = toMirror * place;
        vec4 seen = viewMatrix * place;
        vDeep = -seen.z;
        gl_Position = projectionMatrix * seen;
      }`,
    fragmentShader: /* glsl */ `
      uniform highp sampler2DShadow shade;
      uniform sampler2D mirror;
      uniform vec2 shadeStep;
      uniform vec3 sunWay, sunLight, haze, depth, low, high;
      uniform float hazeFrom, hazeHalf, gain, seconds, mirrored;
      varying vec3 vPlace, vShade;
      varying vec4 vMirror;
      varying float vDeep;
      ${LAMPS_IN_PAINT}
      void main() {
        vec2 p = vPlace.xz;
        float calm = 1.0 / (1.0 + 0.05 * vDeep);
        vec2 slope = calm * vec2(
          0.030 * sin(1.7 * p.x + 0.6 * p.y + 0.9 * seconds) + 0.022 * sin(0.5 * p.x - 3.3 * p.y + 1.3 * seconds),
          0.030 * sin(1.9 * p.y - 0.8 * p.x + 0.7 * seconds) + 0.022 * sin(0.7 * p.y + 3.1 * p.x + 1.1 * seconds));
        vec3 up = normalize(vec3(slope.x, 1.0, slope.y));
        vec3 toEye = normalize(cameraPosition - vPlace);
        vec3 back = reflect(-toEye, up);
        back.y = abs(back.y);
        float shine = 0.03 + 0.90 * pow(1.0 - max(dot(up, toEye), 0.0), 4.0);
        vec3 sky = mix(low, high, smoothstep(0.0, 0.42, back.y));
        sky += 0.25 * sunLight * pow(max(dot(back, sunWay), 0.0), 8.0);
        // A ripple draws what it mirrors out toward the eye more than to the sides.
        float along = dot(slope, normalize(toEye.xz)), across = slope.x * toEye.z - slope.y * toEye.x;
        vec4 there = mirrored * texture2D(mirror, vMirror.xy / vMirror.w + vec2(0.12 * across, 0.45 * along));
        sky = sky * (1.0 - there.a) + there.rgb;
        vec2 inside = abs(vShade.xy - 0.5);
        float lit = max(inside.x, inside.y) < 0.5 ? texture(shade, vShade + vec3(shadeStep, -0.0006)) : 1.0;
        vec3 light = mix(depth * (0.75 + 0.5 * lit), sky * (0.72 + 0.28 * lit), shine);
        light += lit * sunLight * pow(max(dot(back, sunWay), 0.0), 160.0);
        #if LAMPS > 0
          // Water shows little of its own, and a lamp over it as a long glitter toward the eye.
          light += 0.12 * depth * lamps(vPlace, up);
          for (int i = 0; i < LAMPS; i++) {
            vec3 to = lampPlace[i] - vPlace;
            float far = length(to);
            light += lampLight[i] * 0.35 / (1.0 + 0.02 * far * far) * pow(max(dot(back, to / far), 0.0), 1400.0) * smoothstep(lampShape[i].x, lampShape[i].y, -dot(to / far, lampWay[i]));
          }
        #endif
        light = mix(light, haze, 1.0 - exp2(-max(vDeep - hazeFrom, 0.0) / hazeHalf));
        gl_FragColor = vec4(light * gain, 1.0);
        #include <colorspace_fragment>
      }`,
  });
  return lampsOn(made);
}
