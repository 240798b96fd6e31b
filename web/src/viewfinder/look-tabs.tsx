import {
  LayoutGrid,
  Maximize2,
  Minimize2,
  PictureInPicture2,
  Plus,
  Scan,
  UserRoundSearch,
} from "lucide-react";
import { Tabs } from "radix-ui";
import { useEffect, useRef } from "react";
import { toggleComposing, useComposing } from "../store/composing";
import { useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { useOnAir } from "../store/seen";
import { lookThrough, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { newCamera } from "../verbs/cameras";
import { GuidesPanel, WORDS } from "./guides-panel";
import { Perches } from "./perches";

/** What to look through: the rover, each camera, the cut. */
export function LookTabs() {
  const cameras = useDocument((s) => s.scene?.cameras) ?? [];
  const shots = useDocument((s) => s.scene?.shots.length) ?? 0;
  const through = useView((s) => s.through);
  const whole = useView((s) => s.whole);
  const wall = useView((s) => s.wall);
  const inset = usePreferences((s) => s.inset);
  const composing = useComposing((s) => s.on);
  const roverFrame = usePreferences((s) => s.roverFrame);
  const onAir = useOnAir();
  const at = typeof through === "object" ? through.camera : through;
  const list = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another tab is the reason to run
  useEffect(() => {
    list.current
      ?.querySelector("[data-state=active]")
      ?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [at]);
  // Many cameras want the room that words on buttons take; the name stands under the picture anyway.
  const many = cameras.length > 6;
  const tab =
    "flex h-7 shrink-0 data-[state=active]:shrink items-center gap-1.5 rounded-[3px] border border-transparent text-sm hover:bg-well disabled:opacity-40 data-[state=active]:border-slate data-[state=active]:bg-slate-wash data-[state=active]:font-semibold" +
    (many ? " @5xl:data-[state=active]:min-w-16" : " px-2 data-[state=active]:min-w-16") +
    (many ? (cameras.length > 10 ? " px-0.5" : " px-1.5") : "");
  return (
    <div className="group/looks @container flex items-center gap-1 px-2 py-1" data-many={many}>
      <Tabs.List
        ref={list}
        aria-label="Look through"
        className={`flex min-w-0 items-center overflow-x-auto [scrollbar-width:none] ${many ? "gap-0" : "gap-1"} ${
          // More of them than there is room for fade out where they go on.
          cameras.length > 12
            ? "[mask-image:linear-gradient(to_right,black_calc(100%-1.5rem),transparent)] pr-6"
            : ""
        }`}
      >
        <Tabs.Trigger
          value="rover"
          className={tab}
          title="Look round freely; never records  (0)"
          onClick={() => lookThrough("rover")}
        >
          Rover
        </Tabs.Trigger>
        <Tabs.Trigger
          value="cut"
          disabled={shots === 0}
          className={tab}
          title="Watch the cut  (C)"
          onClick={() => lookThrough("cut")}
        >
          Cut
        </Tabs.Trigger>
        {cameras.map((camera, i) => (
          <Tabs.Trigger
            value={camera.id}
            key={camera.id}
            // Pressed again, it selects its camera again.
            onClick={() => lookThrough({ camera: camera.id })}
            aria-label={`Camera ${camera.letter} ${camera.name}`}
            title={`${camera.name}${i < 9 ? `  (${i + 1})` : ""}`}
            className={`${tab} ${camera.hidden ? "opacity-50" : ""}`}
          >
            <Letter letter={camera.letter} air={camera.id === onAir} />
            {at === camera.id && (
              <span className={`min-w-0 max-w-44 truncate ${many ? "hidden @5xl:inline" : ""}`}>
                {" "}
                {camera.name}
              </span>
            )}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <span className="flex-1" />
      {at === "rover" ? (
        <Button
          aria-label="Frame of a new camera"
          tip={
            roverFrame ? "Hide the frame a new camera would take" : "Show the frame a new camera would take"
          }
          on={roverFrame}
          onClick={() => usePreferences.setState({ roverFrame: !roverFrame })}
        >
          <Scan size={14} /> <span className={WORDS}>Frame</span>
        </Button>
      ) : (
        <GuidesPanel />
      )}
      {at !== "rover" && at !== "cut" && (
        <Button
          aria-label="Compose"
          tip="Put heads where they should sit in the frame; the camera that sees them so is found"
          hint="Alt C"
          on={composing}
          onClick={toggleComposing}
        >
          <UserRoundSearch size={14} />
        </Button>
      )}
      <Perches />
      <Button
        aria-label="Wall"
        tip={wall ? "Back to one picture" : "The wall: every camera's picture of this moment"}
        hint="Shift W"
        on={wall}
        disabled={cameras.length === 0}
        onClick={() => useView.setState({ wall: !wall, held: [] })}
      >
        <LayoutGrid size={14} />
      </Button>
      <Button
        tip={inset ? "Hide the small picture" : "Show the small picture"}
        hint="I"
        on={inset}
        onClick={() => usePreferences.setState({ inset: !inset })}
      >
        <PictureInPicture2 size={14} />
      </Button>
      <Button
        tip={whole ? "Back to the desk" : "Show the picture full window"}
        hint="W"
        on={whole}
        onClick={() => useView.setState({ whole: !whole })}
      >
        {whole ? <Minimize2 size={14} /> : <Maximize2 size={14} />}
      </Button>
      <Button aria-label="New camera" tip="Make a camera from this view" hint="N" onClick={newCamera}>
        <Plus size={14} /> <span className={WORDS}>Camera</span>
      </Button>
    </div>
  );
}
