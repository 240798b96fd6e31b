import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import type { Does, Problem } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { lookAhead, useProposed } from "../store/proposed";
import { propose, send } from "../store/sending";
import { complain, useView } from "../store/view";
import { focusName } from "../store/words";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Refusal } from "../ui/refusal";
import { useSettled } from "../ui/settled";
import { newId } from "../verbs/new-id";

type Asked = Pick<Does<"coverage.take">, "figures" | "thing">;

/** Cameras that cover a conversation, as pictures on the wall with their reasons; taken one by one or all. */
export function CoveragePanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const scene = useDocument((s) => s.scene);
  const shown = useDocument((s) => s.shown);
  const revision = useDocument((s) => s.revision);
  const stage = useSettled(useMoment((s) => s.stage));
  // Proposals stay while other moments are looked at through them.
  const [frame, setFrame] = useState(() => useMoment.getState().stage);
  const kind = useView((s) => s.kind);
  const ids = useView((s) => s.ids);
  const [prefix] = useState(() => newId("cover"));
  const insert = useProposed((s) => s.insert);
  const picking = useView((s) => s.picking === "insert");
  const [left, setLeft] = useState<string[]>([]);
  const figures = kind === "figure" && ids.length >= 2 ? ids : [];
  const asked: Asked = { figures, thing: insert };
  const { data } = useQuery({
    queryKey: ["coverage", id, revision, frame, figures, insert],
    queryFn: async () =>
      ask(
        client.POST("/api/scenes/{scene_id}/coverage", {
          params: { path: { scene_id: id } },
          body: { ...asked, figures, frame },
        }),
      ),
  });
  const found = data?.data ?? [];
  const refused: Problem | null = data?.problem ?? null;
  const cameraOf = (key: string) => `${prefix}-${found.findIndex((one) => one.key === key)}`;
  const what = JSON.stringify([found.map((one) => one.key), asked, frame, revision]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: other proposals are the reason to try them out
  useEffect(() => {
    if (!found.length || !scene) return;
    propose({ kind: "coverage.take", id: prefix, ...asked, frame }, scene.frames.first, scene.frames.last);
    useProposed.setState({ ids: found.map((_, i) => `${prefix}-${i}`) });
    useView.setState({ wall: true, held: [] });
  }, [what]);
  useEffect(
    () => () => {
      propose(null);
      useProposed.setState({ ids: [], insert: null });
      useView.setState(({ through }) => ({
        wall: false,
        through: typeof through === "object" && through.camera.startsWith(prefix) ? "rover" : through,
      }));
    },
    [prefix],
  );

  // What is said of all of them is said once.
  const common = (found[0]?.reasons ?? []).filter((why) => found.every((one) => one.reasons.includes(why)));
  const chosen = found.filter((one) => !left.includes(one.key));
  const take = async (keys: string[]) => {
    propose(null);
    const done = complain(await send({ kind: "coverage.take", id: prefix, ...asked, frame, keys }));
    if (done) useView.setState({ side: null });
  };
  return (
    <aside aria-label="Coverage" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Coverage</h2>
        <p className="text-sm text-faint">
          Of those who talk, at {frame}
          {common.length ? `: ${common.join("; ")}` : ""}. Select two figures or more to have others. A press
          on a picture looks through it.
        </p>
        {stage !== frame && <Button onClick={() => setFrame(stage)}>Propose for {stage} instead</Button>}
        <div className="flex items-center gap-1.5">
          <Button
            tip="An insert of a thing, a hand, or a place: press it, in the picture or on the plan"
            on={picking}
            onClick={() =>
              useView.setState({ picking: picking ? null : "insert", pickedFor: null, tool: "select" })
            }
          >
            Insert of…
          </Button>
          <span className="flex-1 truncate text-sm text-faint">
            {insert && scene ? focusName(scene, insert) : "nothing"}
          </span>
          {insert && (
            <Button aria-label="No insert" onClick={() => useProposed.setState({ insert: null })}>
              <X size={14} />
            </Button>
          )}
        </div>
      </div>
      <Refusal problem={refused} />
      <ul className="min-h-0 flex-1 overflow-auto">
        {found.map((one) => {
          const camera = shown?.cameras.find((each) => each.id === cameraOf(one.key));
          return (
            <li key={one.key} className="border-b border-line px-3 py-2 text-sm" data-proposal={one.key}>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="accent-slate"
                  checked={!left.includes(one.key)}
                  onChange={(e) =>
                    setLeft((was) =>
                      e.target.checked ? was.filter((key) => key !== one.key) : [...was, one.key],
                    )
                  }
                />
                {camera && <Letter letter={camera.letter} size={18} />}
                <b className="flex-1 truncate">{one.name}</b>
                <span className="tabular-nums">{one.focal} mm</span>
              </label>
              <p className="mt-0.5 text-xs text-faint">
                {[one.size, ...one.reasons.filter((why) => !common.includes(why))].join("; ")}
              </p>
              {camera && (
                <button
                  type="button"
                  className="mt-0.5 text-xs text-slate underline"
                  onClick={() => lookAhead(camera.id)}
                >
                  Look through it
                </button>
              )}
            </li>
          );
        })}
      </ul>
      <div className="flex items-center gap-2 border-t border-line px-3 py-2">
        <Button tone="main" disabled={!chosen.length} onClick={() => void take(chosen.map((one) => one.key))}>
          Make {chosen.length === found.length ? "all" : ""} {chosen.length} camera
          {chosen.length === 1 ? "" : "s"}
        </Button>
        <Button onClick={() => useView.setState({ wall: true })}>Wall</Button>
        <span className="flex-1" />
        <Button onClick={() => useView.setState({ side: null })}>Close</Button>
      </div>
    </aside>
  );
}
