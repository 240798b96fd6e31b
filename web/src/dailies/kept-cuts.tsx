import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../api/client";
import { holdAgainst } from "../store/against";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, lookThrough } from "../store/view";
import { Button } from "../ui/button";
import { lately } from "../ui/when";
import { newId } from "../verbs/new-id";

/** Cuts kept under a name: played again, compared in words, deleted. */
export function KeptCuts() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const cuts = useDocument((s) => s.scene?.cuts) ?? [];
  const playing = useDocument((s) => s.scene?.cut_name) || "This cut";
  const [name, setName] = useState("");
  const [compared, setCompared] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: ["cut-differences", id, revision, compared],
    enabled: compared !== null && cuts.some((cut) => cut.id === compared),
    queryFn: async () => {
      const path = { scene_id: id, cut: compared ?? "" };
      return (await ask(client.GET("/api/scenes/{scene_id}/cuts/{cut}/differences", { params: { path } })))
        .data;
    },
  });
  const keep = async () => {
    if (!name.trim()) return;
    if (complain(await send({ kind: "cut.keep", id: newId("cut"), name: name.trim() }))) setName("");
  };
  return (
    <details className="text-sm" open={cuts.length > 0}>
      <summary className="cursor-pointer">
        Cuts: <b>{playing}</b> plays{cuts.length > 0 && `, ${cuts.length} kept`}
      </summary>
      <form
        className="mt-1.5 flex gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Name of the cut that is kept"
          placeholder="Keep this cut as…"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <Button type="submit" disabled={!name.trim()}>
          Keep
        </Button>
      </form>
      <ul className="mt-1 flex flex-col gap-1" aria-label="Kept cuts">
        {cuts.map((cut) => (
          <li key={cut.id} className="flex flex-wrap items-center gap-1.5">
            <span className="min-w-0 basis-full truncate">
              <b>{cut.name}</b>{" "}
              <span className="text-faint">
                {cut.shots?.length} shots{cut.by && ` · ${cut.by}`}
                {cut.when && `, ${lately(cut.when)}`}
              </span>
            </span>
            <Button
              tip="Play this cut; the one that plays is kept in its place"
              onClick={async () => complain(await send({ kind: "cut.use", cut: cut.id }))}
            >
              Play
            </Button>
            <Button
              tip="What it has otherwise than the cut that plays"
              on={compared === cut.id}
              onClick={() => setCompared(compared === cut.id ? null : cut.id)}
            >
              Compare
            </Button>
            <Button
              tip="Hold the cut that plays and this one beside each other, in step"
              onClick={async () => {
                if (complain(await holdAgainst(cut.name, { kept: cut.id }))) lookThrough("cut");
              }}
            >
              Side by side
            </Button>
            <Button
              tip="Delete this kept cut"
              onClick={async () => complain(await send({ kind: "cut.drop", cut: cut.id }))}
            >
              Delete
            </Button>
            {compared === cut.id && data && (
              <ul className="w-full list-disc pl-5 text-xs" aria-label={`What ${cut.name} has otherwise`}>
                {data.length === 0 && <li>Nothing: the two are the same.</li>}
                {data.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
