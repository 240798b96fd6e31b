import {
  ArrowLeft,
  FileDown,
  History,
  Keyboard,
  Link2,
  List,
  MessageSquareText,
  Moon,
  Package,
  Redo2,
  Sun,
  Undo2,
} from "lucide-react";
import { rateName } from "../api/catalogue";
import { beginRender, MOVIE, PICTURES } from "../dailies/asking";
import { JobsButton } from "../dailies/jobs-button";
import { useDocument } from "../store/document";
import { notice, select, toggleSide, useView } from "../store/view";
import { Button } from "../ui/button";
import { Menu, MenuItem } from "../ui/menu";
import { backToFilm, filmOf } from "../verbs/film";
import { redo, undo } from "../verbs/things";
import { DressBar } from "./dress-bar";
import { NewsPanel } from "./news-panel";
import { placeLink } from "./place";

async function handOver(
  kind: "otio" | "glb" | "json" | "shots" | "vtt" | "fountain" | "sounds" | "edl" | "usdz",
): Promise<void> {
  const { id } = useDocument.getState();
  try {
    const answer = await fetch(`/api/scenes/${id}/export/${kind}`);
    if (!answer.ok) {
      const problem = await answer.json();
      notice(problem.title, problem.remedy);
      return;
    }
    const name = answer.headers.get("Content-Disposition")?.match(/filename="(.+)"/)?.[1] ?? `scene.${kind}`;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await answer.blob());
    link.download = name;
    link.click();
    URL.revokeObjectURL(link.href);
    notice(`Handed over as ${name}.`, "", false);
  } catch {
    notice("The server does not answer.", "Start it again with make demo.");
  }
}

async function copyLink(): Promise<void> {
  const url = location.origin + placeLink();
  history.replaceState(null, "", placeLink());
  try {
    await navigator.clipboard.writeText(url);
    notice("A link to this view is on the clipboard.", "", false);
  } catch {
    notice("The browser would not copy; the address bar has the link.", "", false);
  }
}

export function TopBar({ onLeave }: { onLeave: () => void }) {
  const scene = useDocument((s) => s.scene);
  const busy = useDocument((s) => s.busy > 0);
  const unkept = useDocument((s) => s.unkept);
  const canUndo = useDocument((s) => s.canUndo);
  const canRedo = useDocument((s) => s.canRedo);
  const dim = useView((s) => s.dim);
  const side = useView((s) => s.side);
  const film = filmOf();
  return (
    <header data-region="Top" className="flex h-11 items-center gap-2 border-b border-line px-3">
      <button
        type="button"
        className="font-semibold text-slate hover:underline"
        title="All scenes"
        onClick={onLeave}
      >
        Mellow Heron
      </button>
      <span className="text-line">/</span>
      {film && (
        <Button tip="Back to the film, at this moment" hint="Shift B" onClick={() => void backToFilm()}>
          <ArrowLeft size={14} /> Film
        </Button>
      )}
      <button
        type="button"
        className="truncate text-base font-semibold"
        title="The scene's own card"
        onClick={() => select(null)}
      >
        {scene?.name}
      </button>
      <span className="text-sm whitespace-nowrap text-faint">
        {scene &&
          `${rateName(scene.rate)} fps · ${scene.frames.first}–${scene.frames.last} · ${scene.delivery.label}`}
      </span>
      <DressBar />
      <span className="min-w-4 flex-1" />
      <span
        className={`w-16 text-right text-xs ${unkept ? "font-semibold text-brick" : "text-faint"}`}
        aria-live="polite"
      >
        {busy ? "saving…" : unkept ? "not saved" : "saved"}
      </span>
      <NewsPanel />
      <Button tip="Undo" hint="Ctrl Z" disabled={!canUndo} onClick={undo}>
        <Undo2 size={15} />
      </Button>
      <Button tip="Redo" hint="Ctrl Shift Z" disabled={!canRedo} onClick={redo}>
        <Redo2 size={15} />
      </Button>
      <Button tip="History of edits" on={side === "history"} onClick={() => toggleSide("history")}>
        <History size={15} /> History
      </Button>
      <Button
        tip="The cut as a list: pictures, lenses, ranges, moves"
        on={side === "shots"}
        onClick={() => toggleSide("shots")}
      >
        <List size={15} /> Shots
      </Button>
      <Button
        tip="Lines: who says what, from when"
        hint="Shift T"
        on={side === "lines"}
        onClick={() => toggleSide("lines")}
      >
        <MessageSquareText size={15} /> Lines
      </Button>
      <Button
        tip="Library: what was brought in, and what can be"
        hint="Alt Shift B"
        on={side === "library"}
        onClick={() => toggleSide("library")}
      >
        <Package size={15} /> Library
      </Button>
      <JobsButton />
      <Menu
        trigger={
          <Button>
            <FileDown size={15} /> Hand over
          </Button>
        }
      >
        <MenuItem
          note="The edit, animation and lighting, everybody; what was handed over before"
          onSelect={() => useView.setState({ asking: { what: "handover" } })}
        >
          For whom…
        </MenuItem>
        <MenuItem
          note="Drawn as it is now, with a slate, for showing"
          onSelect={() => void beginRender(MOVIE)}
        >
          The cut, as .mp4
        </MenuItem>
        <MenuItem note="A folder for each shot, and a manifest" onSelect={() => void beginRender(PICTURES)}>
          The cut, as .png pictures
        </MenuItem>
        <MenuItem
          note="Size, quality, slate, lines, spare frames, presets"
          onSelect={() => useView.setState({ asking: { what: "render" } })}
        >
          Render…
        </MenuItem>
        <MenuItem
          note="As the camera sees it, at any size"
          onSelect={() => useView.setState({ asking: { what: "still" } })}
        >
          This picture, as .png…
        </MenuItem>
        <MenuItem note="OpenTimelineIO: shots, cameras, lenses, gaps" onSelect={() => handOver("otio")}>
          The cut, as .otio
        </MenuItem>
        <MenuItem
          note="CMX 3600: for what reads no timeline; source timecode is the stage frame"
          onSelect={() => handOver("edl")}
        >
          The cut, as .edl
        </MenuItem>
        <MenuItem note="Camera, lens, ranges, length, the move in words" onSelect={() => handOver("shots")}>
          The shot list, as .csv
        </MenuItem>
        <MenuItem note="Subtitles: who says what, and when" onSelect={() => handOver("vtt")}>
          The lines, as .vtt
        </MenuItem>
        <MenuItem note="A screenplay as plain text" onSelect={() => handOver("fountain")}>
          The lines, as .fountain
        </MenuItem>
        <MenuItem
          note="What the .otio names, as FLAC; stand-in voices too"
          onSelect={() => handOver("sounds")}
        >
          The sounds of the cut, as .zip
        </MenuItem>
        <MenuItem note="glTF: set, moving figures and cameras" onSelect={() => handOver("glb")}>
          The stage, as .glb
        </MenuItem>
        <MenuItem
          note="USD: set, skeletons with their motion, cameras with lens and focus"
          onSelect={() => handOver("usdz")}
        >
          The stage, as .usdz
        </MenuItem>
        <MenuItem note="To open here again, or for the command line" onSelect={() => handOver("json")}>
          The scene, as .json
        </MenuItem>
      </Menu>
      <Button tip="Copy a link to this scene, camera and frame" onClick={copyLink}>
        <Link2 size={15} />
      </Button>
      <Button tip="Keys" hint="F1" onClick={() => useView.setState({ asking: { what: "keys" } })}>
        <Keyboard size={15} />
      </Button>
      <Button
        tip={dim ? "Light paper" : "Dim room"}
        onClick={() => {
          document.documentElement.dataset.room = dim ? "light" : "dim";
          localStorage.setItem("heron-room", dim ? "light" : "dim");
          useView.setState({ dim: !dim });
        }}
      >
        {dim ? <Sun size={15} /> : <Moon size={15} />}
      </Button>
    </header>
  );
}
