import {
  AmbientLight,
  type Box3,
  Color,
  DirectionalLight,
  GridHelper,
  type Mesh,
  MeshLambertMaterial,
  type MeshStandardMaterial,
  type Object3D,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";

export const loader = new GLTFLoader();
/** Somebody is seen from the front, a little from the side and above. */
export const FACING = new Vector3(0.35, 0.22, 1).normalize();
const FIELD_DEG = 35;

/** Light that needs no stage. */
export function inPlainLight(root: Object3D): Object3D {
  root.traverse((node) => {
    const mesh = node as Mesh;
    if (!mesh.isMesh) return;
    const { map } = mesh.material as MeshStandardMaterial;
    mesh.material = new MeshLambertMaterial({ vertexColors: Boolean(mesh.geometry.attributes.color), map });
    mesh.frustumCulled = false;
  });
  return root;
}

/** A small stage of its own to look at what was read; a drag goes round it, keys and the wheel too. */
export function openStage(canvas: HTMLCanvasElement) {
  const gl = new WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
  gl.setPixelRatio(Math.min(window.devicePixelRatio, 2));
  const { clientWidth: wide, clientHeight: high } = canvas;
  gl.setSize(wide, high, false);
  const scene = new Scene();
  scene.background = new Color("#cfd3d0");
  const eye = new PerspectiveCamera(FIELD_DEG, wide / high, 0.02, 8000);
  const sun = new DirectionalLight("#fff3e0", 2.1);
  sun.position.set(3, 5, 4);
  scene.add(sun, new AmbientLight("#c5d1da", 1.5));
  const round = new OrbitControls(eye, canvas);
  round.enableDamping = false;
  round.listenToKeyEvents(canvas);
  let open = true;
  const draw = () => open && gl.render(scene, eye);
  round.addEventListener("change", draw);
  return {
    scene,
    eye,
    draw,
    /** See all of a box from one way, on a floor with lines. */
    frame(box: Box3, from: Vector3): void {
      const [middle, size] = [box.getCenter(new Vector3()), box.getSize(new Vector3())];
      const reach = Math.max(size.x, size.z, 2) * 1.6;
      const step = reach > 200 ? 100 : reach > 20 ? 10 : 1;
      const many = Math.max(Math.ceil(reach / step) * 2, 4);
      const grid = new GridHelper(many * step, many, "#8d948f", "#a9b0ab");
      grid.position.set(middle.x, box.min.y - 0.002, middle.z);
      scene.add(grid);
      const far = (0.5 * Math.max(size.length(), 1.8)) / Math.tan((FIELD_DEG * Math.PI) / 360);
      eye.position.copy(middle).addScaledVector(from, far);
      eye.near = far / 500;
      eye.far = far * 20;
      eye.updateProjectionMatrix();
      round.target.copy(middle);
      round.update();
    },
    close(): void {
      open = false;
      round.dispose();
      gl.dispose();
      gl.forceContextLoss();
    },
  };
}
