import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Problem } from "../api/types";
import { useDocument } from "../store/document";
import { useView } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Dialog } from "../ui/dialog";
import { NumberField } from "../ui/number-field";
import { OneOf } from "../ui/one-of";
import { Refusal } from "../ui/refusal";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import {
  download,
  type HandedOver,
  type HandOverRequest,
  handed,
  handOver,
  type Job,
  stopHandOver,
  wouldWrite,
} from "./asking";
import { Records } from "./records";

const FOR = [
  { value: "edit", label: "The edit" },
  { value: "animation", label: "Animation and lighting" },
  { value: "everybody", label: "Everybody" },
] as const;

const KEPT = "heron-handover";
const FIRST: HandOverRequest = {
  recipient: "edit",
  parts: null,
  by: "scene",
  shots: [],
  spare: 0,
  set_apart: false,
  names: "",
};

/** What was asked for last, on this machine. */
function remembered(): HandOverRequest {
  try {
    return { ...FIRST, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}"), shots: [] };
  } catch {
    return FIRST;
  }
}

/** Files for somebody down the line: what, as one or shot by shot, under which names, and where to. */
export function HandOverDialog({ onClose }: { onClose: () => void }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const [what, setWhat] = useState<HandOverRequest>(() => {
    const { kind, ids } = useView.getState();
    const last = remembered();
    return kind === "shot" && last.by === "shots" ? { ...last, shots: ids } : last;
  });
  const [folder, setFolder] = useState(false);
  const [shown, setShown] = useState<"new" | "before">("new");
  const [job, setJob] = useState<Job | null>(null);
  const [refused, setRefused] = useState<Problem | null>(null);
  const { data } = useQuery(handed(id, revision));
  const { data: planned } = useQuery(wouldWrite(id, revision, what));
  const queries = useQueryClient();
  if (!data) return null;
  const meant = data.parts.filter((one) => one.recipients.includes(what.recipient ?? "edit"));
  const chosen =
    what.parts ??
    data.parts.filter((one) => one.usual.includes(what.recipient ?? "edit")).map((one) => one.name);
  const set = (change: Partial<HandOverRequest>) => {
    setWhat((was) => ({ ...was, ...change }));
    setRefused(null);
  };
  const toggle = (name: string, on: boolean) => {
    const next = data.parts
      .map((one) => one.name)
      .filter((one) => (one === name ? on : chosen.includes(one)));
    set({ parts: next });
  };
  const busy = job !== null && (job.state === "waiting" || job.state === "writing");
  const refers = data.parts.some((one) => one.refers && chosen.includes(one.name));
  const byShots = data.parts.some((one) => one.by_shot && chosen.includes(one.name));
  const go = async (asked: HandOverRequest) => {
    setRefused(null);
    const { job: ended, problem } = await handOver(id, asked, folder, setJob);
    setJob(null);
    if (problem) return setRefused(problem);
    if (ended?.problem)
      return setRefused({
        title: ended.problem.reason,
        remedy: ended.problem.remedy,
        detail: "",
        status: 400,
      });
    void queries.invalidateQueries({ queryKey: ["handed"] });
    if (!ended?.record) return;
    localStorage.setItem(KEPT, JSON.stringify({ ...asked, shots: [] }));
    setShown("before");
    if (!folder) download(ended.record);
  };
  return (
    <Dialog title="Hand over" onClose={onClose} wide>
      <div className="flex flex-col gap-3" data-testid="handover">
        <div className="flex flex-wrap items-center gap-2">
          <OneOf
            label="For whom"
            value={shown === "new" ? (what.recipient ?? "edit") : null}
            options={FOR}
            onSet={(recipient) => {
              set({ recipient, parts: null });
              setShown("new");
            }}
          />
          <span className="flex-1" />
          <Button on={shown === "before"} onClick={() => setShown(shown === "new" ? "before" : "new")}>
            Handed over before ({data.records.length})
          </Button>
        </div>
        {shown === "before" ? (
          <Records
            records={data.records}
            onAgain={(one: HandedOver) => {
              setWhat({ ...FIRST, ...one.asked });
              setShown("new");
            }}
          />
        ) : (
          <div className="grid grid-cols-[1.15fr_1fr] gap-x-6">
            <div className="flex flex-col gap-3">
              <fieldset className="flex flex-col gap-1.5">
                <legend className="mb-1 text-sm text-faint">What</legend>
                {data.parts
                  .filter((one) => meant.includes(one) || chosen.includes(one.name))
                  .map((one) => (
                    <div key={one.name}>
                      <Tick
                        on={chosen.includes(one.name)}
                        disabled={Boolean(one.lacks)}
                        onSet={(on) => toggle(one.name, on)}
                      >
                        {one.label}
                      </Tick>
                      <p className="ml-5 text-xs text-faint">{one.lacks || one.note}</p>
                    </div>
                  ))}
              </fieldset>
              {byShots && (
                <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3">
                  <OneOf
                    label="The stage as one, or shot by shot"
                    value={what.by ?? "scene"}
                    options={[
                      { value: "scene", label: "Whole scene" },
                      {
                        value: "shots",
                        label: what.shots?.length
                          ? count(what.shots.length, "selected shot")
                          : "Shot by shot",
                      },
                    ]}
                    onSet={(by) => set({ by })}
                  />
                  {what.by === "shots" && (
                    <div className="w-56">
                      <NumberField
                        label="Spare at each end"
                        value={what.spare ?? 0}
                        unit="f"
                        digits={0}
                        step={1}
                        onSet={async (spare) => {
                          set({ spare: Math.max(0, Math.round(spare)) });
                          return null;
                        }}
                      />
                    </div>
                  )}
                  {refers && (
                    <Tick on={what.set_apart ?? false} onSet={(set_apart) => set({ set_apart })}>
                      Set in a file of its own, referenced by the USD stages
                    </Tick>
                  )}
                </div>
              )}
              <div className="border-t border-line pt-3">
                <TextField
                  label={`Names: ${data.tokens.map((one) => `{${one}}`).join(" ")}, / for folders`}
                  placeholder={what.by === "shots" ? data.shot_names : data.scene_names}
                  value={what.names ?? ""}
                  onSet={async (names) => {
                    set({ names });
                    return null;
                  }}
                />
              </div>
            </div>
            <div className="flex min-h-0 flex-col gap-2">
              <p className="text-sm text-faint">{count(planned?.files.length ?? 0, "file")}</p>
              <ul
                className="h-64 overflow-auto rounded border border-line bg-sheet p-2 font-mono text-xs leading-5"
                aria-label="Files that will be written"
              >
                {planned?.files.map((one) => (
                  <li key={one.path} className="truncate" title={`${one.part}: ${one.path}`}>
                    {one.path}
                    {one.folder && "/…"}
                  </li>
                ))}
              </ul>
              {data.folder && (
                <OneOf
                  label="Where to"
                  value={folder ? "folder" : "download"}
                  options={[
                    { value: "download", label: "Download", tip: "One zip" },
                    { value: "folder", label: "Server's folder", tip: data.folder },
                  ]}
                  onSet={(to) => setFolder(to === "folder")}
                />
              )}
              {(refused ?? planned?.problem) && (
                <Refusal problem={(refused ?? planned?.problem) as Problem} />
              )}
            </div>
          </div>
        )}
        {shown === "new" && (
          <div className="flex items-center justify-end gap-3 border-t border-line pt-3">
            {busy && job && (
              <div className="flex min-w-0 flex-1 items-center gap-2 text-sm" aria-live="polite">
                <div
                  className="h-1 w-40 shrink-0 overflow-hidden rounded bg-line"
                  role="progressbar"
                  aria-label="Written"
                  aria-valuenow={Math.round((100 * job.done) / Math.max(job.of, 1))}
                >
                  <div
                    className="h-full bg-slate"
                    style={{ width: `${(100 * job.done) / Math.max(job.of, 1)}%` }}
                  />
                </div>
                <span className="truncate text-faint">{job.path}</span>
              </div>
            )}
            {busy && job ? (
              <Button onClick={() => void stopHandOver(job)}>Stop</Button>
            ) : (
              <Button
                tone="main"
                disabled={!planned?.files.length || Boolean(planned.problem)}
                onClick={() => void go(what)}
              >
                Hand over {count(planned?.files.length ?? 0, "file")}
              </Button>
            )}
          </div>
        )}
      </div>
    </Dialog>
  );
}
