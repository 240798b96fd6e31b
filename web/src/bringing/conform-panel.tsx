import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useEffect, useRef } from "react";
import { comparedWith } from "../api/queries";
import type { Command } from "../api/types";
import { useConform } from "../store/conform";
import { useDocument } from "../store/document";
import { propose, send } from "../store/sending";
import { complain, notice, toggleSide } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Refusal } from "../ui/refusal";
import { bringAll } from "../verbs/bringing";
import { newId } from "../verbs/new-id";

/** A cut that came back from the edit, shot by shot: seen in the cut's place, each change taken or left, nothing done before. */
export function ConformPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { of, name, clips, leave } = useConform();
  const here = of === id && clips.length > 0;
  const { data } = useQuery(comparedWith(id, revision, name, here ? clips : []));
  const picker = useRef<HTMLInputElement>(null);
  const lines = here ? (data?.data ?? []) : [];
  const otherwise = lines.filter((line) => line.what[0] !== "same");
  const taken = otherwise.filter((line) => !leave.includes(line.key));
  const command = { kind: "cut.conform", clips, leave } as Command;
  const tried = taken.length ? JSON.stringify([leave, revision, name]) : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is taken is the reason to try it out
  useEffect(() => {
    propose(tried ? command : null, useDocument.getState().scene?.frames.first ?? 0);
  }, [tried]);
  useEffect(() => () => propose(null), []);
  const take = async () => {
    propose(null);
    if (!complain(await send({ ...command, id: newId("cut") } as Command))) return;
    notice(useDocument.getState().said, "", false);
    useConform.setState({ of: null, clips: [], leave: [] });
    toggleSide("conform");
  };
  const turn = (key: string) =>
    useConform.setState({
      leave: leave.includes(key) ? leave.filter((one) => one !== key) : [...leave, key],
    });
  return (
    <aside aria-label="From the edit" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <div className="flex items-center gap-2">
          <h2 className="heading flex-1">From the edit</h2>
          <button
            type="button"
            aria-label="Close"
            title="Close; nothing changes"
            onClick={() => toggleSide("conform")}
          >
            <X size={14} />
          </button>
        </div>
        <p className="truncate text-sm" title={name}>
          {here ? (
            <>
              <b>{name}</b>: {otherwise.length ? `${count(otherwise.length, "change")}` : "no changes"}
            </>
          ) : (
            "No list is open."
          )}
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Button onClick={() => picker.current?.click()}>Open a list…</Button>
          <input
            ref={picker}
            type="file"
            hidden
            accept=".otio,.edl"
            aria-label="A cut from the edit"
            onChange={(e) => void bringAll([...(e.target.files ?? [])])}
          />
          {here && otherwise.length > 0 && (
            <Button
              tone="main"
              disabled={!taken.length}
              tip="It becomes the cut; the cut before is kept, and one undo brings it back"
              onClick={take}
            >
              Take {taken.length === otherwise.length ? "all" : taken.length}
            </Button>
          )}
        </div>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {!here && (
          <p className="px-3 py-4 text-sm text-faint">
            Drop an .otio or an .edl that came back from the edit on the desk. What it has otherwise is shown
            here first.
          </p>
        )}
        {here && <Refusal problem={data?.problem ?? null} />}
        <ul>
          {lines.map((line) => (
            <li key={line.key} className="border-b border-line/60 px-3 py-1.5" data-line={line.key}>
              {line.what[0] === "same" ? (
                <span className="text-sm text-faint">{line.sentence}</span>
              ) : (
                <label className="flex items-start gap-2 text-sm">
                  <input
                    type="checkbox"
                    className="mt-1 accent-slate"
                    checked={!leave.includes(line.key)}
                    onChange={() => turn(line.key)}
                  />
                  <span
                    className={
                      line.shown || line.what[0] === "gone" || line.what[0] === "new" ? "" : "text-brick"
                    }
                  >
                    {line.sentence}
                  </span>
                </label>
              )}
            </li>
          ))}
        </ul>
      </div>
    </aside>
  );
}
