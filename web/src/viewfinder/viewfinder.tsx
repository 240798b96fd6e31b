import { Tabs } from "radix-ui";
import { lazy, Suspense, useLayoutEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { Black } from "../picture/black";
import { overscan } from "../picture/sight";
import { useAgainst } from "../store/against";
import { useComposing } from "../store/composing";
import { useDocument } from "../store/document";
import { afterFirstPicture } from "../store/first";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { useVersion } from "../store/samples";
import { useSeenCamera } from "../store/seen";
import { useView } from "../store/view";
import { useCorner } from "../ui/corner";
import { fetched } from "../ui/fetched";
import { AgainstBar, AgainstLabels } from "./against";
import { Board } from "./board";
import { Caption } from "./caption";
import { CompareLabels } from "./compare";
import { ComposeBar, Composing } from "./compose";
import { EdgeLabels } from "./edges";
import { FrameLines } from "./frame-lines";
import { Inset } from "./inset";
import { JudgeFilters, useJudged } from "./judging";
import { inCorner, laidOut, MAT } from "./layout";
import { Line } from "./line";
import { LookTabs } from "./look-tabs";
import { MissingBar } from "./missing-bar";
import { NoteMarks } from "./notes-now";
import { Placements } from "./placement";
import { ReferenceView } from "./reference";

const recording = afterFirstPicture().then(() => fetched(() => import("./recording")));
const Recording = lazy(() => recording.then((m) => ({ default: m.Recording })));
const spoken = () => afterFirstPicture().then(() => fetched(() => import("./voice-recording")));
const VoiceRecording = lazy(() => spoken().then((m) => ({ default: m.VoiceRecording })));
const wallParts = () => fetched(() => import("./wall"));
const WallLabels = lazy(() => wallParts().then((m) => ({ default: m.WallLabels })));
const WallBar = lazy(() => wallParts().then((m) => ({ default: m.WallBar })));
const Picture = lazy(() => fetched(() => import("../picture/picture")).then((m) => ({ default: m.Picture })));

/** How many pixels of the viewfinder's height are not for the picture. */
export function rowsRoundThePicture(): number {
  const mat = document.querySelector<HTMLElement>("[data-mat]");
  return (mat?.parentElement?.clientHeight ?? 0) - (mat?.clientHeight ?? 0) + 2 * MAT;
}

/** The picture in its mat, with what it shows said under it. */
export function Viewfinder() {
  const room = useRef<HTMLDivElement>(null);
  const [space, setSpace] = useState({ width: 0, height: 0 });
  const through = useView((s) => s.through);
  const picture = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const cameras = useDocument((s) => s.shown?.cameras.length) ?? 0;
  const black = useMoment((s) => s.gap) && through === "cut";

  // Before the first painting, so that the picture need not wait for a second one.
  useLayoutEffect(() => {
    const el = room.current;
    if (!el) return;
    const measure = () => setSpace({ width: el.clientWidth, height: el.clientHeight });
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    return () => watch.disconnect();
  }, []);

  const mirrored = useView((s) => s.looks.mirrored);
  const judgedAs = useView((s) => s.looks.judge);
  const comparing = useView((s) => s.comparing !== null);
  const picking = useView((s) => s.picking);
  const whole = useView((s) => s.whole);
  const bare = useView((s) => s.bare);
  const { inset, beside, insetWidth, insetNarrow } = usePreferences();
  useView((s) => s.looks.outside);
  useVersion(useSeenCamera()?.id ?? "");
  const edges = useView((s) => s.edges !== null);
  const against = useAgainst((s) => s.held !== null) && through === "cut" && !comparing && !edges;
  const composing = useComposing((s) => s.on) && typeof through === "object";
  const wall = useView((s) => s.wall) && cameras > 0 && !comparing && !edges && !against;
  const rover = through === "rover" || comparing || edges || wall || against;
  // With what lies outside the frame shown, the picture is larger than the frame in it.
  const beyond = rover ? null : overscan();
  const [overX, overY] = beyond?.over ?? [1, 1];
  const other = inset && !comparing && !edges && !wall && !against && (through !== "rover" || cameras > 0);
  const elevation = useView((s) => s.seenFrom !== "above");
  // A camera's frame wants all the room: the rover's small picture lies on the plan then.
  const planCorner = useCorner((s) => s.corner);
  const corner = other && !rover && !beside && !whole ? planCorner : null;
  const places = laidOut({
    room: space,
    aspect: rover ? null : (picture * overX) / overY,
    inset:
      other && !corner
        ? {
            aspect: through === "rover" ? picture : 16 / 9,
            width: through === "rover" ? insetWidth : insetNarrow,
            beside,
          }
        : null,
  });
  const { width, height } = places.main;
  const judged = useJudged(height);
  const inner = {
    left: `${50 - 50 / overX}%`,
    right: `${50 - 50 / overX}%`,
    top: `${50 - 50 / overY}%`,
    bottom: `${50 - 50 / overY}%`,
  };
  const at = typeof through === "object" ? through.camera : through;
  return (
    <Tabs.Root
      value={at}
      // Arrows go from tab to tab; only a press looks through one, for the keys are the desk's own.
      activationMode="manual"
      role="region"
      aria-label="Viewfinder"
      className={`flex min-w-0 flex-col bg-paper ${whole ? "fixed inset-0 z-40" : "relative h-full"}`}
    >
      <LookTabs />
      <JudgeFilters />
      <Tabs.Content
        ref={room}
        value={at}
        forceMount
        tabIndex={-1}
        className="relative min-h-0 flex-1 overflow-hidden bg-mat"
        data-mat
        data-testid="mat"
      >
        {width > 10 && height > 10 && (
          <div className={`absolute ${picking ? "cursor-crosshair" : ""}`} style={places.main}>
            <Suspense
              fallback={
                <p className="grid h-full place-items-center text-sm text-white/80">Drawing the stage…</p>
              }
            >
              <div
                className={`h-full w-full overflow-hidden ${mirrored ? "pointer-events-none" : ""}`}
                style={judged}
                data-judged={judgedAs || undefined}
              >
                <Picture width={width} height={height} />
              </div>
            </Suspense>
            <div
              className="pointer-events-none absolute overflow-hidden"
              style={rover ? { inset: 0 } : inner}
              data-testid="frame"
            >
              {through === "cut" && !rover && !black && <Board />}
              {!edges && !wall && !against && !comparing && <ReferenceView />}
              {!rover && !bare && <FrameLines />}
              {!rover && !bare && !black && !mirrored && (composing ? <Composing /> : <Placements />)}
              {!rover && !bare && !black && !mirrored && <NoteMarks />}
            </div>
            {through === "rover" && !bare && !wall && (
              <RoverFrame wide={width} high={height} aspect={picture} />
            )}
            {beyond && <Outside inner={inner} back={beyond.back} over={beyond.over} />}
            {edges && <EdgeLabels width={width} height={height} />}
            {against && <AgainstLabels width={width} height={height} />}
            {comparing && <CompareLabels width={width} height={height} />}
            {wall && (
              <Suspense>
                <WallLabels width={width} height={height} />
              </Suspense>
            )}
            {black && !edges && !wall && !against && <Black />}
          </div>
        )}
        {places.inset && <Inset place={places.inset} />}
        {corner && createPortal(<Inset place={inCorner(corner, insetNarrow, elevation)} />, corner)}
        <Suspense>
          <Recording />
          <VoiceRecording />
        </Suspense>
        <EmptyHint />
      </Tabs.Content>
      <MissingBar />
      <Caption />
      {wall ? (
        <Suspense>
          <WallBar />
        </Suspense>
      ) : composing && !rover ? (
        <ComposeBar />
      ) : against ? (
        <AgainstBar />
      ) : (
        <Line />
      )}
    </Tabs.Root>
  );
}

/** Dims what the audience will not see, and draws the frame's edge and the film back's. */
function Outside({
  inner,
  back,
  over,
}: {
  inner: React.CSSProperties;
  back: [number, number];
  over: [number, number];
}) {
  const edge = {
    left: `${50 - (50 * back[0]) / over[0]}%`,
    right: `${50 - (50 * back[0]) / over[0]}%`,
    top: `${50 - (50 * back[1]) / over[1]}%`,
    bottom: `${50 - (50 * back[1]) / over[1]}%`,
  };
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden" data-testid="outside">
      <div
        className="absolute outline-2 outline-white"
        style={{ ...inner, boxShadow: "0 0 0 2000px rgb(40 40 40 / 0.62)" }}
      />
      <div className="absolute border border-dashed border-white/70" style={edge}>
        <span className="absolute right-1 bottom-0.5 text-xs text-white/90">film back</span>
      </div>
    </div>
  );
}

/** The frame that a camera made from the rover's view would take: as high as the picture. */
function RoverFrame({ wide, high, aspect }: { wide: number; high: number; aspect: number }) {
  const shown = usePreferences((s) => s.roverFrame);
  const cameraless = useDocument((s) => s.scene?.cameras.length === 0);
  if (!shown || high * aspect >= wide - 2) return null;
  const side = (wide - high * aspect) / 2;
  return (
    <div className="pointer-events-none absolute inset-0" data-testid="rover-frame">
      {(["left", "right"] as const).map((edge) => (
        <div
          key={edge}
          className={`absolute inset-y-0 bg-black/20 ${edge === "left" ? "border-r" : "border-l"} border-white/50`}
          style={{ [edge]: 0, width: side }}
        />
      ))}
      {cameraless && (
        <p className="absolute bottom-1 text-xs text-white/90" style={{ left: side + 8 }}>
          The frame a new camera takes
        </p>
      )}
    </div>
  );
}

function EmptyHint() {
  const scene = useDocument((s) => s.scene);
  const tool = useView((s) => s.tool);
  if (!scene || scene.figures.length + scene.pieces.length + scene.cameras.length > 0 || tool !== "select")
    return null;
  return (
    <div className="pointer-events-none absolute inset-x-0 bottom-6 grid place-items-center">
      <p className="max-w-96 rounded bg-sheet/95 px-4 py-3 text-sm text-ink">
        An empty stage. Choose <b>Figure</b> or <b>Set</b> over the plan and point at where it goes. When a
        view here is good, press <b>N</b> to make a camera from it.
      </p>
    </div>
  );
}
