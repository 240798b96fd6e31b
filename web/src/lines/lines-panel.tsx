import { Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Scene, SpokenLine, TimedLine } from "../api/types";
import { useDocument } from "../store/document";
import { chooseLines, speakerOf, useLines } from "../store/lines";
import { rate, useMoment } from "../store/moment";
import { LINES, timedLines, useVersion } from "../store/samples";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain, scrubStage, useView } from "../store/view";
import { Button } from "../ui/button";
import { LongList } from "../ui/long-list";
import { NumberField } from "../ui/number-field";
import { ownKeys } from "../ui/own-keys";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import { bringFile, bringText, castVoice, deleteLines, nextSpeaker, react, writeLine } from "../verbs/lines";
import { bringSound, isSound, SOUND_FILES } from "../verbs/sounds";
import { Recorded } from "./recorded";

const ROW = 104;

/** The table of lines: who says what, from which frame or after which pause; written, pasted or brought in. */
export function LinesPanel() {
  const scene = useDocument((s) => s.shown);
  const id = useDocument((s) => s.id);
  useDocument((s) => s.overlay);
  useVersion(LINES);
  const stage = useMoment((s) => s.stage);
  const chosen = useLines((s) => s.chosen);
  if (!scene) return null;
  const times = timedLines();
  const rows = times.flatMap((time) => {
    const line = scene.lines.find((one) => one.id === time.id);
    return line ? [{ line, time }] : [];
  });
  const now = times.findLastIndex(({ first, last }) => first <= stage && stage <= last);
  return (
    <aside
      aria-label="Lines"
      className="flex h-full flex-col overflow-hidden bg-paper"
      onDragOver={(e) => e.dataTransfer.types.includes("Files") && e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const [file] = e.dataTransfer.files;
        void (file && isSound(file) ? bringSound(file, "effects") : bringFile(file));
      }}
    >
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Lines</h2>
        <div className="flex flex-wrap items-center gap-1.5">
          <label
            className={`${LINK} cursor-pointer`}
            title="A screenplay as plain text (.fountain, .txt) or subtitles (.vtt, .srt); speakers are figures of that name"
          >
            Bring in…
            <input
              type="file"
              accept=".fountain,.vtt,.srt,.txt"
              className="sr-only"
              aria-label="Bring in a screenplay or subtitles"
              onChange={(e) => {
                void bringFile(e.target.files?.[0]);
                e.target.value = "";
              }}
            />
          </label>
          <label
            className={`${LINK} cursor-pointer`}
            title="A sound (WAV, FLAC, Ogg, MP3): of the line that is chosen, else at the playhead of the stage"
          >
            Sound…
            <input
              type="file"
              accept={SOUND_FILES}
              className="sr-only"
              aria-label="Bring in a sound"
              onChange={(e) => {
                void bringSound(e.target.files?.[0], "effects");
                e.target.value = "";
              }}
            />
          </label>
          <label
            className={`${LINK} cursor-pointer`}
            title="Music (WAV, FLAC, Ogg, MP3), in the cut at the playhead"
          >
            Music…
            <input
              type="file"
              accept={SOUND_FILES}
              className="sr-only"
              aria-label="Bring in music"
              onChange={(e) => {
                void bringSound(e.target.files?.[0], "music", null);
                e.target.value = "";
              }}
            />
          </label>
          {rows.length > 0 && (
            <>
              <a className={LINK} href={`/api/scenes/${id}/export/vtt`} download title="Subtitles (WebVTT)">
                .vtt
              </a>
              <a
                className={LINK}
                href={`/api/scenes/${id}/export/fountain`}
                download
                title="A screenplay as plain text"
              >
                .fountain
              </a>
            </>
          )}
          {rows.length > 0 && (
            <Button
              tip={`Have listeners look at who speaks and nod, in ${chosen.length ? "the chosen lines" : "all lines"}; acts to be changed by hand`}
              onClick={() => void react(chosen)}
            >
              React
            </Button>
          )}
          {rows.length > 0 && (
            <Button
              tip="Cameras proposed for whoever talks, as pictures with their reasons"
              hint="Shift C"
              onClick={() => useView.setState({ side: "coverage" })}
            >
              Cover…
            </Button>
          )}
          {rows.length > 0 && (
            <Button
              tip="A first cut from the lines, with its reasons: which angle when"
              hint="Shift F"
              onClick={() => useView.setState({ side: "assembly" })}
            >
              Assemble…
            </Button>
          )}
          <Button
            tip="Delete the chosen lines; the others stay where they are"
            hint="Delete"
            disabled={chosen.length === 0}
            onClick={() => void deleteLines()}
          >
            <Trash2 size={14} />
          </Button>
        </div>
        {rows.length > 0 && (
          <Tick
            on={scene.stand_ins}
            onSet={(stand_ins) => void send({ kind: "scene.set", stand_ins }).then(complain)}
          >
            Stand-in voice for unrecorded lines
          </Tick>
        )}
      </div>
      {rows.length === 0 ? (
        <p className="flex-1 p-3 text-sm text-faint">
          No lines yet. Write a line below, paste dialogue there, or bring in a screenplay or subtitles.
        </p>
      ) : (
        <LongList
          items={rows}
          keyOf={({ line }) => line.id}
          height={ROW}
          className="min-h-0 flex-1 overflow-auto"
          label="Table of lines"
          shown={now}
        >
          {({ line, time }, i) => (
            <Row scene={scene} line={line} time={time} before={rows[i - 1]?.time} on={i === now} />
          )}
        </LongList>
      )}
      <NewLine scene={scene} />
    </aside>
  );
}

const LINK =
  "inline-flex h-7 items-center rounded-[3px] border border-line bg-sheet px-2 text-sm hover:bg-well";

interface RowProps {
  scene: Scene;
  line: SpokenLine;
  time: TimedLine;
  before: TimedLine | undefined;
  on: boolean;
}

function Row({ scene, line, time, before, on }: RowProps) {
  const chosen = useLines((s) => s.chosen.includes(line.id));
  const { name, colour } = speakerOf(scene, line);
  const length = time.last - time.first + 1;
  const follows = line.first === null;
  const set = (change: Record<string, unknown>, seen?: number) =>
    send({ kind: "line.set", line: line.id, ...change }, seen);
  const field = {
    digits: 0,
    step: 1,
    unit: "f",
    compact: true,
  };
  return (
    <div
      className={`border-b border-line border-l-3 px-2 py-1.5 text-sm ${on ? "bg-slate-wash [&_.text-faint]:text-ink" : ""} ${chosen ? "outline-2 -outline-offset-2 outline-slate" : ""}`}
      style={{ borderLeftColor: colour }}
      data-row={line.id}
    >
      <div className="flex items-center gap-1.5">
        <Speaker
          label={`Who says “${line.text}”`}
          scene={scene}
          value={line.figure ?? ""}
          voice={line.figure ? null : name}
          onSet={(to) => void set(to).then(complain)}
        />
        <span className="flex-1" />
        <button
          type="button"
          className={`text-xs tabular-nums hover:text-ink ${on ? "" : "text-faint"}`}
          title="Go to its first frame"
          onClick={(e) => {
            scrubStage(time.first);
            const { chosen: all } = useLines.getState();
            chooseLines(e.shiftKey ? [...new Set([...all, line.id])] : [line.id]);
          }}
        >
          {time.first}–{time.last} · {(length / rate()).toFixed(1)} s
        </button>
      </div>
      <div className="flex items-center gap-1.5">
        <div className="flex-1">
          <TextField
            label={`Words of ${name}`}
            bare
            value={line.text}
            onSet={(text, seen) => set({ text }, seen)}
          />
        </div>
        <Recorded scene={scene} line={line} />
      </div>
      <div className="mt-1 flex items-center gap-2 text-xs">
        <select
          className="field"
          aria-label={`When “${line.text}” begins`}
          value={follows ? "follows" : "at"}
          onKeyDown={ownKeys}
          onChange={(e) => void set({ follows: e.target.value === "follows" }).then(complain)}
        >
          <option value="follows">{before ? "after the line before" : "from the beginning"}</option>
          <option value="at">at frame</option>
        </select>
        <NumberField
          key={follows ? "pause" : "first"}
          label={follows ? "Pause" : "Frame"}
          value={follows ? line.pause : time.first}
          onTry={(to) =>
            tryOut(
              { kind: "line.set", line: line.id, [follows ? "pause" : "first"]: to },
              useMoment.getState().stage,
            )
          }
          onSet={async (to, seen) => {
            endTry();
            dropOverlay();
            return set({ [follows ? "pause" : "first"]: Math.round(to) }, seen);
          }}
          {...field}
          unit={follows ? "f" : ""}
        />
      </div>
    </div>
  );
}

/** No figure has such an id. */
const STAGED = "on the stage";

/** Who speaks: a figure, or a voice by its name. */
function Speaker({
  label,
  scene,
  value,
  voice,
  onSet,
}: {
  label: string;
  scene: Scene;
  value: string;
  voice: string | null;
  onSet: (to: { figure: string } | { who: string }) => void;
}) {
  return (
    <select
      className="field min-w-0 font-semibold"
      aria-label={label}
      value={value}
      onKeyDown={ownKeys}
      onChange={(e) => {
        const to = e.target.value;
        if (to === STAGED) void castVoice(voice as string);
        else onSet(to ? { figure: to } : { who: voice || "Voice" });
      }}
    >
      {scene.figures.map((one) => (
        <option key={one.id} value={one.id}>
          {one.name}
        </option>
      ))}
      <option value="">{voice ? `${voice} (voice off)` : "A voice off"}</option>
      {voice && <option value={STAGED}>Put {voice} on the stage</option>}
    </select>
  );
}

/** Where the next line is written. */
function NewLine({ scene }: { scene: Scene }) {
  const [text, setText] = useState("");
  const [who, setWho] = useState<string | null>(null);
  const [here, setHere] = useState(false);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const input = useRef<HTMLTextAreaElement>(null);
  // Whoever is chosen next speaks next.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another figure is the reason to run
  useEffect(() => setWho(null), [kind, ids, scene.lines.length]);
  const by = who ?? nextSpeaker() ?? "";
  const keep = async () => {
    const said = text.trim();
    if (!said) return;
    const rows = said.split("\n").filter((row) => row.trim()).length;
    const done =
      rows > 1
        ? await bringText(said)
        : await writeLine(
            said,
            here || scene.lines.length === 0 ? useMoment.getState().stage : null,
            by || null,
          );
    if (!done) return;
    setText("");
    input.current?.focus();
  };
  const many = text.includes("\n");
  return (
    <div className="flex flex-col gap-1.5 border-t border-line px-3 py-2">
      <div className="flex items-center gap-1.5 text-sm">
        {many ? (
          <span className="text-faint">Names come from the text</span>
        ) : (
          <>
            <Speaker
              label="Who says the new line"
              scene={scene}
              value={by}
              voice={null}
              onSet={(to) => setWho("figure" in to ? to.figure : "")}
            />
            <label className="flex items-center gap-1 text-xs whitespace-nowrap text-faint">
              <input
                type="checkbox"
                className="accent-slate"
                checked={here || scene.lines.length === 0}
                disabled={scene.lines.length === 0}
                onChange={(e) => setHere(e.target.checked)}
              />
              at playhead
            </label>
          </>
        )}
        <span className="flex-1" />
        <Button tone="main" disabled={!text.trim()} onClick={() => void keep()}>
          {many ? "Bring in" : "Add line"}
        </Button>
      </div>
      <textarea
        ref={input}
        className="field h-14 w-full resize-none py-1 leading-snug"
        aria-label="New line"
        placeholder="Write a line and press Enter, or paste dialogue"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          ownKeys(e);
          if (e.key === "Escape") e.currentTarget.blur();
          if (e.key === "Enter" && !e.shiftKey) {
            e.preventDefault();
            void keep();
          }
        }}
      />
    </div>
  );
}
