import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";
import { TextField } from "../../ui/text-field";
import { when } from "../../ui/when";
import { deleteTake, underWay } from "../asking";

interface Props {
  takes: Take[];
  chosen: number | null;
  against: number | null;
  onChoose: (take: number) => void;
  onAgainst: (take: number | null) => void;
}

/** The takes of a scene, the newest first: which is looked at, and which it is held against. */
export function TakeList({ takes, chosen, against, onChoose, onAgainst }: Props) {
  return (
    <ol className="w-60 shrink-0 overflow-auto border-r border-line" aria-label="Takes, the newest first">
      {takes.map((take) => (
        <Line
          key={take.id}
          take={take}
          on={take.id === chosen}
          held={take.id === against}
          onChoose={() => onChoose(take.id)}
          onAgainst={() => onAgainst(take.id === against ? null : take.id)}
        />
      ))}
    </ol>
  );
}

function Line(props: {
  take: Take;
  on: boolean;
  held: boolean;
  onChoose: () => void;
  onAgainst: () => void;
}) {
  const { take, on, held } = props;
  const again = useQueryClient();
  const [sure, setSure] = useState(false);
  // On the chosen row's ground faint words would be too faint.
  const faint = on ? "" : "text-faint";
  const refresh = () => again.invalidateQueries({ queryKey: ["takes"] });
  const copy = async () => {
    const { data, problem } = await ask(
      client.POST("/api/takes/{take_id}/copy", { params: { path: { take_id: take.id } } }),
    );
    if (complain(problem)) location.assign(`/scene/${data?.scene}`);
  };
  return (
    <li className={`border-b border-line px-3 py-2 text-sm ${on ? "bg-slate-wash" : ""}`} data-take={take.id}>
      <button type="button" className="w-full text-left" aria-pressed={on} onClick={props.onChoose}>
        <span className="font-semibold">Take {take.number}</span>{" "}
        <span className={`text-xs ${faint}`}>{when(take.at)}</span>
        <span className={`block text-xs ${faint}`}>
          by {take.author} · {take.wide} × {take.high} · {take.render.quality}
          {take.render.of !== "cut" && ` · ${take.render.of === "shots" ? "some shots" : "one camera"}`}
          {underWay(take) && ` · ${take.done} of ${take.frames} drawn`}
          {take.remarks > 0 && ` · ${take.remarks} remark${take.remarks === 1 ? "" : "s"}`}
        </span>
        {!on && take.note && <span className="block truncate italic">{take.note}</span>}
      </button>
      {on && (
        <TextField
          label={`Note on take ${take.number}`}
          bare
          placeholder="Note…"
          value={take.note}
          onSet={async (note) => {
            const { problem } = await ask(
              client.POST("/api/takes/{take_id}/note", {
                params: { path: { take_id: take.id } },
                body: { note },
              }),
            );
            void refresh();
            return problem;
          }}
        />
      )}
      <div className="mt-1 flex flex-wrap gap-1">
        {!on && (
          <Button on={held} tip="Compare the open take with this one" onClick={props.onAgainst}>
            Against
          </Button>
        )}
        {on && (
          <Button tip="Open the scene as it was rendered, as a new scene" onClick={copy}>
            Open a copy
          </Button>
        )}
        {on && !sure && <Button onClick={() => setSure(true)}>Delete…</Button>}
        {on && sure && (
          <>
            <Button
              tone="wrong"
              tip="Deletes its files and remarks; can't be undone"
              onClick={async () => {
                if (await deleteTake(take.id)) void refresh();
              }}
            >
              Delete permanently
            </Button>
            <Button onClick={() => setSure(false)}>Keep</Button>
          </>
        )}
      </div>
    </li>
  );
}
