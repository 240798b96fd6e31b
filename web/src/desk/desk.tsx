import { lazy, type RefObject, Suspense, useEffect, useRef, useState } from "react";
import { Group, Panel, type PanelImperativeHandle, Separator } from "react-resizable-panels";
import { Assembly } from "../assembly/assembly";
import { useOperate } from "../operating/state";
import { Plan } from "../plan/plan";
import { useAgainst } from "../store/against";
import { useDocument } from "../store/document";
import { afterFirstPicture } from "../store/first";
import { pause, settle } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { closeScene, lookAt, openScene, watchScene } from "../store/sending";
import { useSpace } from "../store/space";
import { recallUnsaved } from "../store/unsaved";
import { cameraSeen, notice, prune, useView, type View } from "../store/view";
import { Boundary } from "../ui/boundary";
import { fetched } from "../ui/fetched";
import { NoticesOver } from "../ui/notices";
import { watchLive } from "../verbs/live";
import { frameSelected } from "../verbs/things";
import { rowsRoundThePicture, Viewfinder } from "../viewfinder/viewfinder";
import { followPlace, goTo, keepView, type Place, recallView } from "./place";
import { onKey } from "./shortcuts";
import { TopBar } from "./top-bar";

// What is asked for by hand is fetched when it is.
const Card = lazy(() =>
  afterFirstPicture()
    .then(() => fetched(() => import("../card/card")))
    .then((m) => ({ default: m.Card })),
);
const dialogs = () => fetched(() => import("./dialogs"));
const Dialogs = lazy(() => dialogs().then((m) => ({ default: m.Dialogs })));
const SIDES = {
  history: lazy(() => fetched(() => import("./history-panel")).then((m) => ({ default: m.HistoryPanel }))),
  jobs: lazy(() => fetched(() => import("../dailies/jobs-panel")).then((m) => ({ default: m.JobsPanel }))),
  operate: lazy(() =>
    fetched(() => import("../operate/operate-panel")).then((m) => ({ default: m.OperatePanel })),
  ),
  move: lazy(() => fetched(() => import("../viewfinder/move")).then((m) => ({ default: m.MovePanel }))),
  coverage: lazy(() =>
    fetched(() => import("../coverage/coverage-panel")).then((m) => ({ default: m.CoveragePanel })),
  ),
  assembly: lazy(() =>
    fetched(() => import("../coverage/assembly-panel")).then((m) => ({ default: m.AssemblyPanel })),
  ),
  conform: lazy(() =>
    fetched(() => import("../bringing/conform-panel")).then((m) => ({ default: m.ConformPanel })),
  ),
  library: lazy(() =>
    fetched(() => import("../bringing/library-panel")).then((m) => ({ default: m.LibraryPanel })),
  ),
  lookouts: lazy(() =>
    fetched(() => import("../lookouts/lookouts-panel")).then((m) => ({ default: m.LookoutsPanel })),
  ),
  notes: lazy(() => fetched(() => import("../notes/notes-panel")).then((m) => ({ default: m.NotesPanel }))),
  lines: lazy(() => fetched(() => import("../lines/lines-panel")).then((m) => ({ default: m.LinesPanel }))),
  shots: lazy(() => fetched(() => import("../dailies/shots-panel")).then((m) => ({ default: m.ShotsPanel }))),
};

const Curves = lazy(() => fetched(() => import("../curves/curves")));

/** Of the desk's height: what curves are given to be worked on, and what the assembly keeps at least. */
const FOOT = { curves: 0.42, least: 0.28 };
/** Of the window's width, what the picture keeps. */
const PICTURE = 0.5;

/** Curves are given room when they are opened, and give it back; the picture keeps half of the window's width. */
function useRoomForCurves(foot: RefObject<PanelImperativeHandle | null>, there: boolean): void {
  const open = usePreferences((s) => s.below !== "lanes");
  const aspect = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const before = useRef<number | null>(null);
  useEffect(() => {
    const panel = foot.current;
    if (!panel || !there) return;
    const now = panel.getSize();
    if (open) {
      const whole = now.inPixels / (now.asPercentage / 100);
      const left = whole - rowsRoundThePicture() - (PICTURE * window.innerWidth) / aspect;
      const wanted = 100 * Math.max(Math.min(FOOT.curves, (left - 4) / whole), FOOT.least);
      if (now.asPercentage >= wanted) return;
      before.current = now.asPercentage;
      panel.resize(`${wanted}%`);
    } else if (before.current !== null) {
      panel.resize(`${before.current}%`);
      before.current = null;
    }
  }, [open, there, foot, aspect]);
}

const across = "w-1 bg-line hover:bg-slate data-[separator=hover]:bg-slate";
const down = "h-1 bg-line hover:bg-slate";

/** The one working screen: plan, viewfinder, card, and the assembly under them. */
export default function Desk({ place, onLeave }: { place: Place; onLeave: () => void }) {
  const [phase, setPhase] = useState<"opening" | "open" | string>("opening");
  const side = useView((s) => s.side);
  const name = useDocument((s) => s.scene?.name);
  const foot = useRef<PanelImperativeHandle | null>(null);
  useRoomForCurves(foot, phase === "open");

  useEffect(() => {
    let gone = false;
    const dim = localStorage.getItem("heron-room") === "dim";
    document.documentElement.dataset.room = dim ? "dim" : "light";
    useAgainst.setState({ held: null });
    useView.setState({ dim, kind: null, ids: [], notices: [], tool: "select", asking: null, side: null });
    void openScene(place.scene, place.look).then(async (problem) => {
      if (gone) return;
      if (problem) return setPhase(`${problem.title} ${problem.remedy}`);
      const back = recallView(place.scene);
      if (!back) frameSelected();
      goTo(place);
      useSpace.setState({ recalled: back });
      setPhase("open");
      const repairs = useDocument.getState().repairs;
      if (repairs.length)
        notice(
          `This scene was repaired when it was opened: ${repairs.join("; ")}.`,
          "Check these keys.",
          false,
          true,
        );
      await recallUnsaved();
    });
    return () => {
      gone = true;
      pause();
      closeScene();
    };
  }, [place]);

  useEffect(() => {
    if (phase !== "open") return;
    const ends = [
      watchLive(),
      followPlace(),
      keepView(),
      useDocument.subscribe((now, was) => {
        if (now.scene === was.scene && now.overlay?.cut === was.overlay?.cut) return;
        prune();
        settle();
      }),
    ];
    window.addEventListener("keydown", onKey);
    // Not needed for the first picture; by the time it is asked for it is there.
    void afterFirstPicture().then(dialogs);
    lookAt(() => [cameraSeen() ?? "", ...useView.getState().ids].filter(Boolean));
    const unwatch = watchScene(() => setPhase("This scene was deleted. Open another from the list."));
    return () => {
      for (const end of ends) end();
      window.removeEventListener("keydown", onKey);
      unwatch();
    };
  }, [phase]);

  useEffect(() => {
    document.title = name ? `${name} · Mellow Heron` : "Mellow Heron";
  }, [name]);

  if (phase === "opening") return <p className="p-8 text-faint">Opening the scene…</p>;
  if (phase !== "open") {
    return (
      <main className="p-8">
        <p role="alert" className="mb-4 text-brick">
          {phase}
        </p>
        <button type="button" className="text-slate underline" onClick={onLeave}>
          All scenes
        </button>
      </main>
    );
  }
  return (
    // In a smaller window, or a larger print, the page scrolls rather than its parts being cut off.
    <main
      className="flex h-full min-h-[600px] min-w-[1000px] flex-col overflow-hidden"
      onDragOver={(e) => e.dataTransfer.types.includes("Files") && e.preventDefault()}
      onDrop={dropped}
    >
      <h1 className="sr-only">{name}</h1>
      <TopBar onLeave={onLeave} />
      <Group orientation="vertical" className="min-h-0 flex-1">
        <Panel defaultSize="66%" minSize="30%">
          <Group orientation="horizontal">
            <Panel defaultSize="25%" minSize="14%" data-region="Plan">
              <Boundary name="plan">
                <Plan />
              </Boundary>
            </Panel>
            <Separator className={across} />
            <Panel defaultSize="52.5%" minSize="25%" data-region="Viewfinder">
              <Boundary name="viewfinder">
                <Viewfinder />
              </Boundary>
            </Panel>
            <Separator className={across} />
            <Panel defaultSize="22.5%" minSize="15%" data-region="Card">
              <Boundary name="card">
                <Suspense>
                  <Side of={side} />
                </Suspense>
              </Boundary>
            </Panel>
          </Group>
        </Panel>
        <Separator className={down} />
        <Panel defaultSize="34%" minSize="15%" panelRef={foot} data-region="Assembly">
          <Boundary name="assembly">
            <Assembly
              curves={
                <Suspense>
                  <Curves />
                </Suspense>
              }
            />
          </Boundary>
        </Panel>
      </Group>
      <Asked />
      <Under />
      <NoticesOver />
    </main>
  );
}

/** Files that are dropped anywhere but on something that takes them itself are brought in. */
function dropped(e: React.DragEvent): void {
  const files = [...e.dataTransfer.files];
  if (e.defaultPrevented || !files.length) return;
  e.preventDefault();
  void fetched(() => import("../verbs/bringing")).then(({ bringAll }) => bringAll(files));
}

/** What stands at the right. */
function Side({ of }: { of: View["side"] }) {
  const operating = useOperate((s) => s.thing !== null);
  const shown = of ?? (operating ? "operate" : null);
  if (!shown) return <Card />;
  const Panel = SIDES[shown];
  return <Panel />;
}

const UnderMenu = lazy(() =>
  fetched(() => import("../viewfinder/under")).then((m) => ({ default: m.UnderMenu })),
);

/** The menu of a right press, once there was one. */
function Under() {
  const open = useView((s) => s.under !== null);
  if (!open) return null;
  return (
    <Suspense>
      <UnderMenu />
    </Suspense>
  );
}

/** A dialog, once something is asked. */
function Asked() {
  const asking = useView((s) => s.asking !== null);
  if (!asking) return null;
  return (
    <Suspense>
      <Dialogs />
    </Suspense>
  );
}
