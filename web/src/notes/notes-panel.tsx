import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { notesChanged, notesOfCut } from "../api/queries";
import type { CutNotes } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useNoted } from "../store/noted";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Remedies } from "../ui/remedies";
import { bothFrames, type Far, goNote, goToNote, listed, type Noted, putAside } from "../verbs/notes";
import { LineSection } from "./line-section";
import { Thresholds } from "./thresholds";

/** All notes of the cut by shot, gone to one by one; what was put aside; and how strictly they speak. */
export function NotesPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const shots = useDocument((s) => s.scene?.shots.length) ?? 0;
  const { data } = useQuery(notesOfCut(id, revision));
  const [limits, setLimits] = useState(false);
  useEffect(() => () => useNoted.setState({ pointed: null, at: null }), []);
  const all = data ? listed(data) : [];
  return (
    <aside aria-label="Notes" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Notes</h2>
        <p className="text-sm text-faint">
          {data ? count(all.length, "note") : "Looking"} of the cut{data ? "" : "…"}. <b>Alt N</b> goes to the
          next, <b>Alt Shift N</b> to the previous.
        </p>
        <div className="flex gap-1.5">
          <Button disabled={!all.length} onClick={() => void goNote(1)}>
            Next note
          </Button>
          <Button on={limits} onClick={() => setLimits(!limits)}>
            Thresholds
          </Button>
        </div>
      </div>
      {limits && data ? (
        <Thresholds kinds={data.kinds} />
      ) : (
        <div className="min-h-0 flex-1 overflow-auto">
          <Changed />
          <LineSection />
          {data && !all.length && (
            <p className="p-3 text-sm text-faint">
              {shots
                ? "Nothing to note."
                : "There are no shots in the cut yet: notes of a camera stand under its picture."}
            </p>
          )}
          {data?.shots.map((one) => (
            <ShotNotes key={one.shot} shot={one.shot} notes={all.filter((each) => each.shot === one.shot)} />
          ))}
          {data && data.aside.length > 0 && <PutAside aside={data.aside} />}
        </div>
      )}
    </aside>
  );
}

/** What the last change did to the notes: how many are new and gone, and which. */
function Changed() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(notesChanged(id, revision));
  if (!data || !(data.new.length || data.gone.length)) return null;
  const parts = [
    data.new.length && `${data.new.length} new`,
    data.gone.length && `${data.gone.length} gone`,
  ].filter(Boolean);
  return (
    <details className="border-b border-line px-3 py-2 text-sm" data-testid="notes-changed">
      <summary className="cursor-pointer">
        The last change: <b>{parts.join(", ")}</b>
      </summary>
      <p className="mt-1 text-xs text-faint">{data.sentence}</p>
      <ul className="mt-1 flex flex-col gap-1">
        {data.new.map((one) => (
          <li key={`+${one.kind}${one.of}${one.first}`}>
            <b>new</b> {one.sentence}
          </li>
        ))}
        {data.gone.map((one) => (
          <li key={`-${one.kind}${one.of}${one.first}`} className="text-faint line-through">
            {one.sentence}
          </li>
        ))}
      </ul>
    </details>
  );
}

function ShotNotes({ shot, notes }: { shot: string; notes: Noted[] }) {
  const name = useDocument((s) => itemOf(s.scene, "shots", shot)?.name);
  const letter = useDocument(
    (s) => itemOf(s.scene, "cameras", itemOf(s.scene, "shots", shot)?.camera ?? null)?.letter,
  );
  const on = useMoment((s) => s.shot);
  const here = useDocument((s) => s.scene?.shots[on]?.id === shot);
  if (!notes.length) return null;
  return (
    <section className="border-b border-line" aria-label={`Notes of shot ${name}`}>
      <h3 className={`flex items-center gap-1.5 px-3 pt-2 pb-1 text-sm ${here ? "font-semibold" : ""}`}>
        <b>{name}</b> {letter && <Letter letter={letter} size={18} />}
        <span className="text-faint">{count(notes.length, "note")}</span>
      </h3>
      <ul>
        {notes.map((one) => (
          <Row key={one.key} one={one} />
        ))}
      </ul>
    </section>
  );
}

function Row({ one }: { one: Noted }) {
  const { note } = one;
  const at = useNoted((s) => s.at === one.key);
  const [asking, setAsking] = useState(false);
  return (
    <li
      className={`px-3 py-1.5 text-sm ${at ? "bg-slate-wash" : ""}`}
      data-note={note.kind}
      ref={(node) => {
        if (at) node?.scrollIntoView({ block: "nearest" });
      }}
    >
      <button
        type="button"
        className="flex w-full items-start gap-2 text-left hover:underline"
        aria-current={at || undefined}
        onClick={() => goToNote(one)}
        onMouseEnter={() => useNoted.setState({ pointed: note })}
        onMouseLeave={() => useNoted.setState({ pointed: at ? note : null })}
      >
        <Weight of={note.weight} />
        <span className="flex-1">{note.sentence}</span>
      </button>
      {at && (
        <div className="py-1 pl-5">
          <Remedies note={note} shot={one.shot} />
        </div>
      )}
      <div className="flex items-center gap-2 pl-5 text-xs text-faint">
        <span className="flex-1">
          {note.joint ? `cut ${note.joint.join(" to ")}` : `stage ${note.first}–${note.last}`}
        </span>
        {note.joint?.length === 2 && (
          <button type="button" className="hover:underline" onClick={() => bothFrames(note)}>
            Both frames
          </button>
        )}
        <button
          type="button"
          className="hover:underline"
          aria-expanded={asking}
          onClick={() => setAsking(!asking)}
        >
          Put aside…
        </button>
      </div>
      {asking && <Asking one={one} onDone={() => setAsking(false)} />}
    </li>
  );
}

/** For how much of the scene a note is put aside, and why. */
function Asking({ one: { note }, onDone }: { one: Noted; onDone: () => void }) {
  const [why, setWhy] = useState("");
  const put = async (far: Far) => (await putAside(note, far, why)) && onDone();
  return (
    <div className="mt-1 flex flex-col gap-1.5 rounded-sm border border-line bg-sheet p-2">
      <input
        className="field"
        aria-label="Why"
        placeholder="Why, in a word"
        maxLength={400}
        value={why}
        // biome-ignore lint/a11y/noAutofocus: it was just opened to be typed in
        autoFocus
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") void put("here");
          if (e.key === "Escape") onDone();
        }}
        onChange={(e) => setWhy(e.target.value)}
      />
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => void put("here")}>{note.joint ? "This cut" : "These frames"}</Button>
        {!note.joint && <Button onClick={() => void put("camera")}>Camera {note.camera}</Button>}
        <Button onClick={() => void put("scene")}>The whole scene</Button>
      </div>
    </div>
  );
}

/** How heavy a note is: a bar of three. */
function Weight({ of }: { of: number }) {
  const bars = of >= 0.85 ? 3 : of >= 0.65 ? 2 : 1;
  return (
    <span
      className="mt-1 flex h-3 shrink-0 items-end gap-px"
      role="img"
      aria-label={["light", "middling", "heavy"][bars - 1]}
    >
      {[1, 2, 3].map((n) => (
        <span
          key={n}
          className={`w-[3px] ${n <= bars ? "bg-ochre" : "bg-line"}`}
          style={{ height: `${n * 4}px` }}
        />
      ))}
    </span>
  );
}

function PutAside({ aside }: { aside: CutNotes["aside"] }) {
  return (
    <details className="px-3 py-2 text-sm">
      <summary className="cursor-pointer text-faint">{count(aside.length, "note")} put aside</summary>
      <ul className="mt-1 flex flex-col gap-1.5">
        {aside.map((one) => (
          <li key={one.id} className="flex items-start gap-2" data-aside={one.note}>
            <span className="flex-1">
              {one.label}, {one.where}
              {one.frames ? ` at ${one.frames.first}–${one.frames.last}` : ""}
              {one.why && <span className="block text-xs text-faint">{one.why}</span>}
            </span>
            <Button onClick={() => void send({ kind: "note.back", aside: one.id }).then(complain)}>
              Bring back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
