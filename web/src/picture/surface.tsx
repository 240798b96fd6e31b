import { createRoot, extend, type ReconcilerRoot, type RenderProps } from "@react-three/fiber";
import { Component, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  ConeGeometry,
  CylinderGeometry,
  GridHelper,
  Group,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  Points,
  PointsMaterial,
  RingGeometry,
  SphereGeometry,
  Sprite,
  SpriteMaterial,
} from "three";
import { sizing, underWay } from "./renderer/accumulation";

// What is drawn by name: all of the drawing library would be fetched before the first picture otherwise.
extend({
  BoxGeometry, BufferAttribute, BufferGeometry, ConeGeometry, CylinderGeometry, GridHelper, Group, InstancedMesh,
  LineBasicMaterial, LineSegments, Mesh, MeshBasicMaterial, PlaneGeometry, Points, PointsMaterial, RingGeometry,
  SphereGeometry, Sprite, SpriteMaterial,
}); // biome-ignore format: a list of names

type Set = RenderProps<HTMLCanvasElement>;

/**
 * A canvas with a stage in it. Its size is said, not measured: measured, it would be known only after a drawing at
 * the size before, which a new size then has to wait for.
 */
export function Surface({
  width,
  height,
  label,
  children,
  ...set
}: { width: number; height: number; label: string; children: ReactNode } & Pick<
  Set,
  "gl" | "camera" | "flat" | "frameloop" | "onCreated"
>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const root = useRef<ReconcilerRoot<HTMLCanvasElement> | null>(null);
  const [failed, setFailed] = useState<{ error: unknown } | null>(null);
  // What fails in the drawing fails in its panel.
  if (failed) throw failed.error;

  const drawn = useRef({ set, children });
  drawn.current = { set, children };
  useLayoutEffect(() => {
    if (!canvas.current) return;
    // It lies where it should at once; how finely it is drawn follows.
    canvas.current.style.width = `${width}px`;
    canvas.current.style.height = `${height}px`;
    root.current ??= createRoot(canvas.current);
    const mine = root.current;
    let gone = false;
    const take = async () => {
      // A new size waits for what is being drawn, and the whole page with it: better the picture alone.
      sizing.waits += 1;
      while (!gone && underWay()) await new Promise(requestAnimationFrame);
      sizing.waits -= 1;
      if (gone) return;
      await mine.configure({ ...drawn.current.set, size: { width, height, top: 0, left: 0 } });
      if (!gone) mine.render(<Catch tell={setFailed}>{drawn.current.children}</Catch>);
    };
    take().catch((error) => setFailed({ error }));
    return () => {
      gone = true;
    };
  }, [width, height]);
  useEffect(
    () => () => {
      root.current?.unmount();
      root.current = null;
    },
    [],
  );

  return <canvas ref={canvas} className="block" role="img" aria-label={label} />;
}

/** The drawing has a tree of its own, so its failures are carried over by hand. */
class Catch extends Component<{ tell: (failed: { error: unknown }) => void; children: ReactNode }> {
  state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  componentDidCatch(error: unknown) {
    this.props.tell({ error });
  }

  render() {
    return this.state.failed ? null : this.props.children;
  }
}
