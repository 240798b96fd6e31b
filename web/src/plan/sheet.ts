import { type RefObject, useEffect, useRef } from "react";
import { useDocument } from "../store/document";
import { fit, toStage, useSpace } from "../store/space";

/** The sheet the plan is drawn on: as large as its panel, turned by the wheel, fitted to a scene once. */
export function useSheet(sheet: RefObject<SVGSVGElement | null>): void {
  const fitted = useRef(-1);
  const scene = useDocument((s) => s.shown);
  const sceneId = useDocument((s) => s.id);
  useEffect(() => {
    const el = sheet.current;
    if (!el) return;
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      const was = useSpace.getState();
      if (was.width !== width || was.height !== height) useSpace.setState({ width, height });
      const { scene: now, id } = useDocument.getState();
      if (now && id !== fitted.current && entry.contentRect.width > 20) {
        fitted.current = id ?? -1;
        if (!useSpace.getState().recalled) fit(now);
      }
    });
    watch.observe(el);
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const now = useSpace.getState();
      const box = el.getBoundingClientRect();
      const [px, py] = [e.clientX - box.left, e.clientY - box.top];
      const [x, z] = toStage(now, px, py);
      const scale = Math.min(Math.max(now.scale * Math.exp(-e.deltaY * 0.0015), 1.5), 400);
      useSpace.setState({
        scale,
        cx: x - (px - now.width / 2) / scale,
        cz: z - (py - now.height / 2) / scale,
      });
    };
    const room = el.parentElement ?? el;
    room.addEventListener("wheel", wheel as EventListener, { passive: false });
    return () => {
      watch.disconnect();
      room.removeEventListener("wheel", wheel as EventListener);
    };
  }, [sheet]);
  useEffect(() => {
    if (scene && sceneId !== fitted.current && useSpace.getState().width > 20) {
      fitted.current = sceneId ?? -1;
      if (!useSpace.getState().recalled) fit(scene);
    }
  }, [scene, sceneId]);
}
