import { queryOptions, useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { ask, client } from "../api/client";
import { notesOfCut } from "../api/queries";
import type { Shot, ShotLine } from "../api/types";
import { useShotPicture, useShotPictures } from "../picture/shot-pictures";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain, notice, toggleSide, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { TextField } from "../ui/text-field";
import { bringList } from "../verbs/boards";
import { goToShot } from "../verbs/navigation";
import { KeptCuts } from "./kept-cuts";

const shotList = (scene: number, revision: number) =>
  queryOptions({
    queryKey: ["shot-list", scene, revision],
    queryFn: async () => {
      const { data, problem } = await ask(
        client.GET("/api/scenes/{scene_id}/shot-list", { params: { path: { scene_id: scene } } }),
      );
      if (problem) throw new Error(problem.detail);
      return data;
    },
    placeholderData: (previous) => previous,
  });

/** The cut as a list: each shot with its picture, its lens and ranges, its move in words, and a note. */
export function ShotsPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(shotList(id, revision));
  const now = useMoment((s) => s.shot);
  return (
    <aside aria-label="Shot list" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Shot list</h2>
        <div className="flex flex-wrap items-center gap-1.5">
          <a className={LINK} href={`/api/scenes/${id}/export/shots`} download>
            .csv
          </a>
          <Sheet id={id} />
          <BringList />
          <Button
            tip="Render the shots of the cut that are chosen here or on the assembly"
            onClick={() => useView.setState({ asking: { what: "render" } })}
          >
            Render…
          </Button>
        </div>
        <KeptCuts />
        <p className="text-xs text-faint">
          <b>Shift Page Down</b> and <b>Shift Page Up</b> go to the next and the previous shot, and loop it.
        </p>
      </div>
      <ol className="min-h-0 flex-1 overflow-auto" data-testid="shot-list">
        {data?.lines.length === 0 && (
          <li className="p-3 text-sm text-faint">There are no shots in the cut yet.</li>
        )}
        {data?.lines.map((line, i) => (
          <Fragment key={data.ids[i]}>
            <GapBefore id={data.ids[i]} />
            <Line line={line} id={data.ids[i]} index={i} on={i === now} />
          </Fragment>
        ))}
      </ol>
    </aside>
  );
}

/** Shots of a spreadsheet, as slates at the end of the cut. */
function BringList() {
  return (
    <label
      className={`${LINK} cursor-pointer`}
      title="Shots from a spreadsheet: CSV with the headings name, length (frames, or 2s), text and picture; choose the pictures it names together with it"
    >
      Bring in .csv
      <input
        type="file"
        accept=".csv,text/csv,image/png,image/jpeg,image/webp"
        multiple
        className="sr-only"
        aria-label="Bring in a list of shots"
        onChange={(e) => {
          void bringList([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
    </label>
  );
}

const LINK =
  "inline-flex h-7 items-center rounded-[3px] border border-line bg-sheet px-2 text-sm hover:bg-well";

function Line({ line, id, index, on }: { line: ShotLine; id: string; index: number; on: boolean }) {
  const picture = useShotPicture(useDocument((s) => itemOf(s.scene, "shots", id)));
  const aspect = useDocument((s) => s.scene?.delivery.aspect ?? 16 / 9);
  // On the chosen row's ground faint words would be too faint.
  const faint = on ? "" : "text-faint";
  return (
    <li
      className={`border-b border-line px-3 py-2 text-sm ${on ? "bg-slate-wash" : ""}`}
      aria-current={on || undefined}
      ref={(node) => {
        if (on) node?.scrollIntoView({ block: "nearest" });
      }}
    >
      <div className="mb-1 flex gap-2">
        <button
          type="button"
          className="w-28 shrink-0 self-start overflow-hidden bg-mat"
          style={{ aspectRatio: aspect }}
          title="To its first frame, and loop it"
          aria-label={`Go to shot ${line.shot}`}
          onClick={() => goToShot(index)}
        >
          {picture && <img src={picture} alt="" className="h-full w-full object-cover" />}
        </button>
        <div className="min-w-0 flex-1 text-xs">
          <p className="flex items-center gap-1.5 text-sm font-semibold">
            <span className="truncate">{line.shot}</span>
            {line.camera && <Letter letter={line.camera} size={18} />}
            <span className={`truncate text-xs font-normal ${faint}`}>{line.lens}</span>
          </p>
          <p className={`truncate ${faint}`} title={line.sees}>
            {line.sees}
          </p>
          <p className={`tabular-nums ${faint}`}>
            {line.first}–{line.last}
          </p>
          <p className={`tabular-nums ${faint}`}>
            {line.frames} f · {line.seconds.toFixed(2)} s
          </p>
        </div>
      </div>
      <p className="mb-1 text-xs">{line.move}</p>
      {line.lines && <p className={`mb-1 text-xs italic ${faint}`}>{line.lines}</p>}
      <FrameNotes shot={id} />
      <TextField
        label={`Note on shot ${line.shot}`}
        bare
        placeholder="Note…"
        value={line.note}
        onSet={(note, seen) => send({ kind: "shot.set", shot: id, note }, seen)}
      />
    </li>
  );
}

/** What a careful eye says of a shot: the heaviest, and how many more. */
function FrameNotes({ shot }: { shot: string }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(notesOfCut(id, revision));
  const found = data?.shots.find((one) => one.shot === shot);
  const all = found ? [...found.cut, ...found.frames].sort((a, b) => b.weight - a.weight) : [];
  if (!all.length) return null;
  return (
    <button
      type="button"
      className="mb-1 block text-left text-xs text-ochre hover:underline"
      title={all.map((one) => one.sentence).join("\n")}
      data-testid="frame-notes"
      onClick={() => toggleSide("notes", true)}
    >
      {all[0].sentence}
      {all.length > 1 && ` And ${all.length - 1} more.`}
    </button>
  );
}

/** Black frames before a shot, closed with a press. */
function GapBefore({ id }: { id: string }) {
  const shot = useDocument((s) => itemOf(s.scene, "shots", id));
  if (!shot?.gap_before) return null;
  return (
    <li className="flex items-center gap-2 border-b border-line bg-black px-3 py-1 text-xs text-white">
      <span className="flex-1">
        {shot.gap_before} f black before {shot.name}
      </span>
      <button
        type="button"
        className="underline"
        onClick={async () =>
          complain(await send({ kind: "cut.edit", do: { edit: "close_gap", shots: [id] } }))
        }
      >
        Close
      </button>
    </li>
  );
}

/** The list with its pictures as a PDF. */
function Sheet({ id }: { id: number }) {
  const [busy, setBusy] = useState(false);
  const shots = useDocument((s) => s.scene?.shots) ?? [];
  const missing = useShotPictures((s) => shots.filter((shot) => shot.camera && !s.of[shot.id]).length);
  const make = async () => {
    setBusy(true);
    useShotPictures.setState({ onSheet: true });
    try {
      await allPictures(shots);
      const answer = await fetch(`/api/scenes/${id}/contact-sheet`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ pictures: await packed() }),
      });
      if (!answer.ok) return complain(await answer.json());
      const name = answer.headers.get("Content-Disposition")?.match(/filename="(.+)"/)?.[1] ?? "shots.pdf";
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = name;
      link.click();
      URL.revokeObjectURL(link.href);
    } catch {
      notice("The server does not answer.", "Start it again with make demo.");
    } finally {
      setBusy(false);
      useShotPictures.setState({ onSheet: false });
    }
  };
  return (
    <Button disabled={busy} tip="Every shot with its picture, six a page" onClick={make}>
      {busy && missing > 0 ? `Drawing ${missing} picture${missing === 1 ? "" : "s"}…` : "Contact sheet .pdf"}
    </Button>
  );
}

/** Longer than this no picture is waited for: where none can be drawn the sheet is made without. */
const PATIENCE_MS = 60_000;

/** Resolves once every shot that has a camera has its picture. */
function allPictures(shots: Shot[]): Promise<void> {
  const there = () =>
    shots.every((shot) => !shot.camera || Object.hasOwn(useShotPictures.getState().of, shot.id));
  return new Promise((done) => {
    if (there()) return done();
    const over = () => {
      clearTimeout(timer);
      stop();
      done();
    };
    const timer = setTimeout(over, PATIENCE_MS);
    const stop = useShotPictures.subscribe(() => there() && over());
  });
}

/** The pictures of shots in base64, without what says that they are. */
async function packed(): Promise<Record<string, string>> {
  const out: Record<string, string> = {};
  for (const [shot, { url }] of Object.entries(useShotPictures.getState().of)) {
    const content = new Uint8Array(await (await fetch(url)).arrayBuffer());
    let text = "";
    for (const byte of content) text += String.fromCharCode(byte);
    out[shot] = btoa(text);
  }
  return out;
}
