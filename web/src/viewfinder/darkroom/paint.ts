import { BackSide, Color, FrontSide, Matrix4, ShaderMaterial, type Texture, Vector2, Vector3 } from "three";

/**
 * What all paint on the stage shares: one sun with its shadow, the sky's light, and the haze.
 * Light is worked out at the points of a shape and only the shadow inside it, since drawing may be in software.
 */
export const LIGHT = {
  sunWay: { value: new Vector3(0, 1, 0) },
  sunLight: { value: new Color() },
  skyLight: { value: new Color() },
  groundLight: { value: new Color() },
  /** Light from the eye's side, and on edges that turn away from it. */
  fillLight: { value: new Color() },
  rimLight: { value: new Color() },
  haze: { value: new Color() },
  hazeFrom: { value: 30 },
  hazeOver: { value: 200 },
  shade: { value: null as Texture | null },
  toShade: { value: new Matrix4() },
  shadeStep: { value: new Vector2() },
  /** What the picture's light is multiplied by. */
  gain: { value: 1 },
};

/** Where a point stands: by its one joint, by its copy, or as it is. */
const STAND = /* glsl */ `
  vec3 stand = position;
  vec3 way = normal;
  #ifdef USE_SKINNING
    int at = int(skinIndex.x) * 4;
    int wide = textureSize(boneTexture, 0).x;
    mat4 bone = mat4(
      texelFetch(boneTexture, ivec2(at % wide, at / wide), 0),
      texelFetch(boneTexture, ivec2((at + 1) % wide, at / wide), 0),
      texelFetch(boneTexture, ivec2((at + 2) % wide, at / wide), 0),
      texelFetch(boneTexture, ivec2((at + 3) % wide, at / wide), 0)
    );
    stand = (bone * vec4(stand, 1.0)).xyz;
    way = mat3(bone) * way;
  #endif
  #ifdef USE_INSTANCING
    mat3 size = mat3(instanceMatrix);
    way = size * (way / vec3(dot(size[0], size[0]), dot(size[1], size[1]), dot(size[2], size[2])));
    stand = (instanceMatrix * vec4(stand, 1.0)).xyz;
  #endif
  #ifndef USE_SKINNING
    stand = (modelMatrix * vec4(stand, 1.0)).xyz;
    way = mat3(modelMatrix) * way;
  #endif
`;

const BONES = /* glsl */ `
  #ifdef USE_SKINNING
    uniform highp sampler2D boneTexture;
  #endif
`;

interface Paint {
  /** The colour of the whole shape; with it white, its points or copies have their own. */
  tint?: string;
}

/** Cheap opaque paint for anything on the stage. */
export function paint({ tint = "#ffffff" }: Paint = {}): ShaderMaterial {
  return new ShaderMaterial({
    side: FrontSide,
    vertexColors: true,
    uniforms: { ...LIGHT, tint: { value: new Color(tint) } },
    vertexShader: /* glsl */ `
      ${BONES}
      uniform vec3 sunWay, sunLight, skyLight, groundLight, fillLight, rimLight, tint;
      uniform mat4 toShade;
      varying vec3 vSky, vSun, vShade;
      varying float vDeep;
      void main() {
        ${STAND}
        way = normalize(way);
        vec3 own = tint;
        #ifdef USE_INSTANCING_COLOR
          own *= instanceColor;
        #elif defined(USE_COLOR)
          own *= color.rgb;
        #endif
        vSky = own * mix(groundLight, skyLight, 0.5 * way.y + 0.5);
        vec3 toEye = normalize(cameraPosition - stand);
        float turned = max(dot(way, toEye), 0.0);
        vSky += own * fillLight * (0.4 + 0.6 * turned);
        // An edge catches light from behind: more of its own white, less of its colour.
        vSky += mix(vec3(1.0), own, 0.6) * rimLight * pow(1.0 - turned, 3.0) * clamp(0.6 + way.y, 0.0, 1.0);
        vSun = own * sunLight * max(dot(way, sunWay), 0.0);
        vShade = (toShade * vec4(stand + way * 0.03, 1.0)).xyz;
        vec4 seen = viewMatrix * vec4(stand, 1.0);
        vDeep = -seen.z;
        gl_Position = projectionMatrix * seen;
      }`,
    fragmentShader: /* glsl */ `
      uniform highp sampler2DShadow shade;
      uniform vec2 shadeStep;
      uniform vec3 haze;
      uniform float hazeFrom, hazeOver, gain;
      varying vec3 vSky, vSun, vShade;
      varying float vDeep;
      void main() {
        vec3 light = vSky;
        if (any(greaterThan(vSun, vec3(0.0)))) {
          vec2 inside = abs(vShade.xy - 0.5);
          float lit = max(inside.x, inside.y) < 0.5 ? texture(shade, vShade + vec3(shadeStep, -0.0006)) : 1.0;
          light += vSun * lit;
        }
        light = mix(light, haze, clamp((vDeep - hazeFrom) / hazeOver, 0.0, 1.0));
        gl_FragColor = vec4(light * gain, 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** For shapes whose points or copies carry their own colours. */
export const PAINT = paint();

/** Draws only depth, as the sun sees it; the backs of things, so that they do not shade their own faces. */
export const SHADE = new ShaderMaterial({
  side: BackSide,
  vertexShader: /* glsl */ `
    ${BONES}
    void main() {
      ${STAND}
      gl_Position = projectionMatrix * viewMatrix * vec4(stand, 1.0);
    }`,
  // Nothing of it is kept but depth.
  colorWrite: false,
  fragmentShader: "void main() { gl_FragColor = vec4(1.0); }",
});
