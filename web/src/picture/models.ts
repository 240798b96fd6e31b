import type { BufferGeometry, Mesh, MeshStandardMaterial, ShaderMaterial } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { PAINT, paint } from "./renderer/paint";

/** What is drawn of a part in one go: between −½ and ½ across and along, 0 and 1 in height. */
export interface Surface {
  geometry: BufferGeometry;
  material: ShaderMaterial;
}

const loader = new GLTFLoader();
const kept = new Map<string, Promise<Surface[][]>>();

export const modelUrl = (key: string): string => `/api/files/${key}.glb`;

/** The surfaces of each part of a file that was brought in, by the part's place in it. */
export function loadModel(key: string): Promise<Surface[][]> {
  let found = kept.get(key);
  if (!found) {
    found = loader.loadAsync(modelUrl(key)).then((gltf) =>
      gltf.scene.children.map((node) => {
        const meshes: Mesh[] = [];
        node.traverse((one) => (one as Mesh).isMesh && meshes.push(one as Mesh));
        return meshes.map(({ geometry, material }) => {
          const { map } = material as MeshStandardMaterial;
          return { geometry, material: map ? paint({ map }) : PAINT };
        });
      }),
    );
    kept.set(key, found);
    // What failed is asked for again the next time.
    found.catch(() => kept.delete(key));
  }
  return found;
}
