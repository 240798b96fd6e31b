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
  /** Nothing is lost nearer than this; beyond it half of a thing in so many metres. */
  hazeFrom: { value: 12 },
  hazeHalf: { value: 130 },
  /** Seconds of the stage, for what moves by itself. */
  seconds: { value: 0 },
  shade: { value: null as Texture | null },
  toShade: { value: new Matrix4() },
  shadeStep: { value: new Vector2() },
  /** Whether figures are flat shapes, to judge the picture by. */
  flat_: { value: 0 },
  /** What the picture's light is multiplied by. */
  gain: { value: 1 },
  /** Lamps: places, the ways they face, colours times brightness a metre away, and cosines of the cone's edge and of where it
   *  begins to fade, and the reach; a lamp that lights all round has cosines below −1. */
  lampPlace: { value: Array.from({ length: 4 }, () => new Vector3()) },
  lampWay: { value: Array.from({ length: 4 }, () => new Vector3(0, 0, -1)) },
  lampLight: { value: Array.from({ length: 4 }, () => new Color(0)) },
  lampShape: { value: Array.from({ length: 4 }, () => new Vector3(-3, -2, 1)) },
  /** The two that cast: what they see, and how to look it up; less than one lamp where none does. */
  lampShade0: { value: null as Texture | null },
  lampShade1: { value: null as Texture | null },
  toLampShade: { value: [new Matrix4(), new Matrix4()] },
  lampCasts: { value: [-1, -1] },
};

/** Things in this layer keep light off others. */
export const CASTS = 3;

/** Light of the lamps on a point inside a shape; each falls off with the square of the distance, and to nothing at its reach. */
export const LAMPS_IN_PAINT = /* glsl */ `
  #if LAMPS > 0
    uniform vec3 lampPlace[4], lampWay[4], lampLight[4], lampShape[4];
    uniform highp sampler2DShadow lampShade0, lampShade1;
    uniform mat4 toLampShade[2];
    uniform float lampCasts[2];
    vec3 lamps(vec3 at, vec3 way) {
      vec3 sum = vec3(0.0);
      for (int i = 0; i < LAMPS; i++) {
        vec3 to = lampPlace[i] - at;
        float far = length(to);
        to /= far;
        float reach = clamp(1.0 - pow(far / lampShape[i].z, 4.0), 0.0, 1.0);
        float cone = smoothstep(lampShape[i].x, lampShape[i].y, -dot(to, lampWay[i]));
        float strong = reach * reach * cone * max(dot(way, to), 0.0) / max(far * far, 0.01);
        if (strong < 0.0005) continue;
        vec4 seen = vec4(-1.0);
        if (lampCasts[0] == float(i)) seen = toLampShade[0] * vec4(at + way * 0.02, 1.0);
        else if (lampCasts[1] == float(i)) seen = toLampShade[1] * vec4(at + way * 0.02, 1.0);
        if (seen.w > 0.0) {
          vec3 place = seen.xyz / seen.w;
          vec2 inside = abs(place.xy - 0.5);
          if (max(inside.x, inside.y) < 0.5)
            strong *= lampCasts[0] == float(i)
              ? texture(lampShade0, place - vec3(0.0, 0.0, 0.0002))
              : texture(lampShade1, place - vec3(0.0, 0.0, 0.0002));
        }
        sum += strong * lampLight[i];
      }
      return sum;
    }
  #endif
`;

const lamplit = new Set<ShaderMaterial>();
let lampCount = 0;

/** How many lamps there are; another number needs new paint. */
export function countLamps(count: number): void {
  if (count === lampCount) return;
  lampCount = count;
  for (const material of lamplit) {
    material.defines.LAMPS = count;
    material.needsUpdate = true;
  }
}

/** Paint that lamps shine on, for as long as it is used. */
export function lampsOn(material: ShaderMaterial): ShaderMaterial {
  material.defines = { ...material.defines, LAMPS: lampCount };
  lamplit.add(material);
  material.addEventListener("dispose", () => lamplit.delete(material));
  return material;
}

/** Where a point stands: by its joints, by its copy, or as it is. */
const STAND = /* glsl */ `
  vec3 stand = position;
  vec3 way = normal;
  #ifdef USE_MORPHTARGETS
    for (int i = 0; i < MORPHTARGETS_COUNT; i++)
      if (morphTargetInfluences[i] > 0.0) stand += getMorph(gl_VertexID, i, 0).xyz * morphTargetInfluences[i];
  #endif
  #ifdef USE_SKINNING
    mat4 bone = boneAt(skinIndex.x);
    // Cloth goes with more than one joint; all else with one.
    if (skinWeight.x < 0.999)
      bone = bone * skinWeight.x + boneAt(skinIndex.y) * skinWeight.y + boneAt(skinIndex.z) * skinWeight.z +
        boneAt(skinIndex.w) * skinWeight.w;
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
  #include <morphtarget_pars_vertex>
  #ifdef USE_SKINNING
    uniform highp sampler2D boneTexture;
    mat4 boneAt(float joint) {
      int at = int(joint) * 4;
      int wide = textureSize(boneTexture, 0).x;
      return mat4(
        texelFetch(boneTexture, ivec2(at % wide, at / wide), 0),
        texelFetch(boneTexture, ivec2((at + 1) % wide, at / wide), 0),
        texelFetch(boneTexture, ivec2((at + 2) % wide, at / wide), 0),
        texelFetch(boneTexture, ivec2((at + 3) % wide, at / wide), 0)
      );
    }
  #endif
`;

interface Paint {
  /** Of boards laid side by side along the longer way. */
  boards?: boolean;
  /** It shines by itself: no light falls on it, nothing shades it. */
  lit?: boolean;
  /** The colour of the whole shape; with it white, its points or copies have their own. */
  tint?: string;
  /** A picture that lies on it. */
  map?: Texture;
}

/** Cheap opaque paint for anything on the stage. */
export function paint({ tint = "#ffffff", boards = false, lit = false, map }: Paint = {}): ShaderMaterial {
  const made = new ShaderMaterial({
    side: FrontSide,
    vertexColors: true,
    defines: { ...(boards && { BOARDS: "" }), ...(lit && { LIT: "" }), ...(map && { MAPPED: "" }) },
    uniforms: { ...LIGHT, tint: { value: new Color(tint) }, map: { value: map ?? null } },
    vertexShader: /* glsl */ `
      ${BONES}
      uniform vec3 sunWay, sunLight, skyLight, groundLight, fillLight, rimLight, tint;
      uniform mat4 toShade;
      varying vec3 vSky, vSun, vShade;
      varying float vDeep, vBody;
      #ifdef BOARDS
        varying float vAlong;
      #endif
      #if LAMPS > 0
        varying vec3 vStand, vWay, vHue;
      #endif
      #ifdef MAPPED
        varying vec2 vOn;
      #endif
      void main() {
        ${STAND}
        #ifdef MAPPED
          vOn = uv;
        #endif
        vBody = 0.0;
        #ifdef USE_SKINNING
          vBody = 1.0;
        #endif
        #if defined(BOARDS) && defined(USE_INSTANCING)
          vec3 own = vec3(length(instanceMatrix[0]), 0.0, length(instanceMatrix[2]));
          vAlong = own.x >= own.z ? position.x * own.x : position.z * own.z;
        #endif
        way = normalize(way);
        vec3 hue = tint;
        #ifdef USE_COLOR
          hue *= color.rgb;
        #endif
        #ifdef USE_INSTANCING_COLOR
          hue *= instanceColor;
        #endif
        vSky = hue * mix(groundLight, skyLight, 0.5 * way.y + 0.5);
        vec3 toEye = normalize(cameraPosition - stand);
        float turned = max(dot(way, toEye), 0.0);
        vSky += hue * fillLight * (0.4 + 0.6 * turned);
        // An edge catches light from behind: more of its own white, less of its colour.
        vSky += mix(vec3(1.0), hue, 0.6) * rimLight * pow(1.0 - turned, 3.0) * clamp(0.6 + way.y, 0.0, 1.0);
        vSun = hue * sunLight * max(dot(way, sunWay), 0.0);
        #ifdef LIT
          vSky = 1.9 * hue;
          vSun = vec3(0.0);
          hue = vec3(0.0);
        #endif
        #if LAMPS > 0
          vStand = stand;
          vWay = way;
          vHue = hue;
        #endif
        vShade = (toShade * vec4(stand + way * 0.03, 1.0)).xyz;
        vec4 seen = viewMatrix * vec4(stand, 1.0);
        vDeep = -seen.z;
        gl_Position = projectionMatrix * seen;
      }`,
    fragmentShader: /* glsl */ `
      uniform highp sampler2DShadow shade;
      uniform vec2 shadeStep;
      uniform vec3 haze;
      uniform float hazeFrom, hazeHalf, gain, flat_;
      varying vec3 vSky, vSun, vShade;
      varying float vDeep, vBody;
      #ifdef BOARDS
        varying float vAlong;
      #endif
      #if LAMPS > 0
        varying vec3 vStand, vWay, vHue;
      #endif
      #ifdef MAPPED
        uniform sampler2D map;
        varying vec2 vOn;
      #endif
      ${LAMPS_IN_PAINT}
      void main() {
        if (flat_ * vBody > 0.5) {
          gl_FragColor = vec4(vec3(0.006), 1.0);
          #include <colorspace_fragment>
          return;
        }
        vec3 light = vSky;
        vec3 own = vec3(1.0);
        #ifdef MAPPED
          own = texture(map, vOn).rgb;
        #endif
        if (any(greaterThan(vSun, vec3(0.0)))) {
          vec2 inside = abs(vShade.xy - 0.5);
          float lit = max(inside.x, inside.y) < 0.5 ? texture(shade, vShade + vec3(shadeStep, -0.0006)) : 1.0;
          light += vSun * lit;
        }
        #if LAMPS > 0
          light += vHue * lamps(vStand, normalize(vWay));
        #endif
        #ifdef BOARDS
          float board = vAlong / 0.17, wide = fwidth(board), near = clamp(1.0 - 2.0 * wide, 0.0, 1.0);
          float seam = 1.0 - smoothstep(0.0, 0.07 + wide, fract(board));
          light *= 1.0 - near * (0.5 * seam + 0.16 * fract(sin(floor(board) * 12.9) * 43758.5));
        #endif
        light *= own;
        light = mix(light, haze, 1.0 - exp2(-max(vDeep - hazeFrom, 0.0) / hazeHalf));
        gl_FragColor = vec4(light * gain, 1.0);
        #include <colorspace_fragment>
      }`,
  });
  return lampsOn(made);
}

/** For shapes whose points or copies carry their own colours. */
export const PAINT = paint();
export const BOARDS = paint({ boards: true });
export const LIT = paint({ lit: true });

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
