import { use } from "react";
import type { BufferGeometry, Group, Mesh, MeshStandardMaterial } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { LIT, PAINT, paint } from "./renderer/paint";
import { CASTS } from "./renderer/shadow";

const loader = new GLTFLoader();
const kept = new Map<string, Promise<Group>>();

export function loadGroup(url: string): Promise<Group> {
  let found = kept.get(url);
  if (!found) {
    found = loader.loadAsync(url).then((gltf) => {
      gltf.scene.traverse((node) => {
        const mesh = node as Mesh;
        if (!mesh.isMesh) return;
        // What shines stands in nobody's light.
        const lit = mesh.name === "lit";
        const { map } = mesh.material as MeshStandardMaterial;
        mesh.material = lit ? LIT : map ? paint({ map }) : PAINT;
        if (!lit) mesh.layers.enable(CASTS);
        // Joints move far from the rest pose, so the stored bounds say nothing.
        mesh.frustumCulled = false;
      });
      return gltf.scene;
    });
    kept.set(url, found);
    // What failed is asked for again the next time.
    found.catch(() => kept.delete(url));
  }
  return found;
}

const unit = loadGroup("/api/shapes/pieces.glb").then((group) => {
  const out: Record<string, BufferGeometry> = {};
  for (const child of group.children) out[child.name] = (child as Mesh).geometry;
  return out;
});

/** A unit solid of each kind of set piece; suspends until they are there. */
export const useUnitPieces = (): Record<string, BufferGeometry> => use(unit);
