import { useEffect } from "react";
import { channelsBy, openCurves, thingOf, useCurves } from "../store/curves";
import { itemOf, useDocument } from "../store/document";
import { channelsOf } from "../store/keys";
import { scaleOf, useKeysPicked } from "../store/picked";
import { usePreferences } from "../store/preferences";
import { insetCamera, useView } from "../store/view";
import { fit } from "../verbs/curves";
import { ChannelList } from "./channel-list";

import { useShown } from "./lines";
import { SeenStrip } from "./seen-strip";
import { Surface } from "./surface";
import { Tools } from "./tools";

/** What is meant: the selected camera or mover, a figure with keys or an act that can have some, else the one looked through, else the one last chosen. */
function useMeant(): string | null {
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const through = useView((s) => s.through);
  const last = useView((s) => s.lastCamera);
  const scene = useDocument((s) => s.scene);
  const acts = useView((s) => s.acts);
  const figure = kind === "figure" ? itemOf(scene, "figures", ids[0]) : undefined;
  void last;
  if (figure && channelsOf(figure).some(([name, c]) => c.keys.length || acts.includes(name.split(".")[0])))
    return figure.id;
  if ((kind === "camera" || kind === "mover") && ids[0]) return ids[0];
  if (typeof through === "object") return through.camera;
  return scene?.cameras.length ? insetCamera() : (scene?.movers[0]?.id ?? null);
}

/** The curves of what is chosen, or its keys in rows, under the stage's ruler. */
export default function Curves() {
  const rows = usePreferences((s) => s.below === "rows");
  const strip = usePreferences((s) => s.strip);
  const meant = useMeant();
  const shown = useShown();
  const { thing, specs, curves, failed } = useCurves();
  const scene = useDocument((s) => s.scene);
  const shared = useKeysPicked((s) => s.shared);

  useEffect(() => {
    void openCurves(meant);
    useKeysPicked.setState({
      picked: {},
      shown: null,
      active: null,
      spans: {},
      top: 0,
      hitch: null,
      proposed: false,
    });
  }, [meant]);
  useEffect(
    () => () => {
      void openCurves(null);
    },
    [],
  );
  // What has no scale yet is fitted; what has one stays where it is, however its curve is changed.
  const ready = shown.names.filter((name) => name in curves).join(" ");
  useEffect(() => {
    const { spans } = useKeysPicked.getState();
    const names = ready.split(" ").filter(Boolean);
    const missing = names.filter((name) => {
      const spec = specs.find((one) => one.name === name);
      return spec && !(scaleOf(spec, shared) in spans);
    });
    if (missing.length) fit(shared ? names : missing);
  }, [ready, specs, shared]);
  // Keys that went, by undo or another's hand, are not picked any more.
  useEffect(() => {
    const now = channelsBy(thingOf(scene, thing));
    useKeysPicked.setState((s) => {
      const kept = Object.fromEntries(
        Object.entries(s.picked).map(([name, frames]) => {
          const there = new Set(now[name]?.keys.map((k) => k.frame));
          return [name, frames.every((f) => there.has(f)) ? frames : frames.filter((f) => there.has(f))];
        }),
      );
      return Object.keys(kept).some((name) => kept[name] !== s.picked[name]) ? { picked: kept } : s;
    });
  }, [scene, thing]);

  if (!meant)
    return (
      <p className="px-3 py-3 text-sm text-faint">
        No camera selected. Make one from this view with N to see its curves here.
      </p>
    );
  if (failed)
    return (
      <p role="alert" className="px-3 py-3 text-sm text-brick">
        {failed}
      </p>
    );
  return (
    <div className="flex h-full min-h-0 flex-col" data-testid="curves-panel">
      <Tools shown={shown} rows={rows} />
      <div className="flex min-h-0 flex-1">
        <ChannelList shown={shown} rows={rows} />
        <div className="relative min-w-0 flex-1">
          <Surface shown={shown} rows={rows} />
          {specs.length > 0 && shown.names.length === 0 && (
            <p className="pointer-events-none absolute inset-x-0 top-3 px-3 text-sm text-faint">
              Nothing is keyed here yet. Set a key on the card, or choose a channel on the left.
            </p>
          )}
        </div>
      </div>
      {strip && <SeenStrip />}
    </div>
  );
}
