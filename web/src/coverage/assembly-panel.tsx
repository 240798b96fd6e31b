import { useQuery } from "@tanstack/react-query";
import { Lock } from "lucide-react";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import type { Does, Schemas } from "../api/types";
import { useDocument } from "../store/document";
import { goCut, pause, play, rate, useMoment } from "../store/moment";
import { propose, send } from "../store/sending";
import { complain, lookThrough, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { newId } from "../verbs/new-id";
import { AssemblyWishes, NOTHING_ASKED, useAsked } from "./assembly-wishes";
import { type Bar, ProposalStrip } from "./proposal-strip";

type Which = "now" | "one" | "two";
const NAMES: Record<Which, string> = { now: "As it is", one: "Proposal 1", two: "Proposal 2" };
const signed = (frames: number) => `${frames > 0 ? "+" : frames < 0 ? "−" : ""}${Math.abs(frames)} f`;

/** A cut from the lines, proposed twice beside the one that is there: played, compared, and taken. */
export function AssemblyPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const scene = useDocument((s) => s.scene);
  const revision = useDocument((s) => s.revision);
  const playing = useMoment((s) => s.playing);
  const [which, setWhich] = useState<Which>("one");
  const { of, left, keep: chosen, ...changes } = useAsked();
  const keep = chosen?.filter((one) => scene?.shots.some((shot) => shot.id === one)) ?? null;
  const [prefix] = useState(() => newId("cut"));

  const now = useQuery({
    queryKey: ["assembly", id, revision],
    placeholderData: (was) => was,
    queryFn: async () =>
      ask(client.GET("/api/scenes/{scene_id}/assembly", { params: { path: { scene_id: id } } })),
  }).data?.data;
  const cameras = scene?.cameras.filter((one) => !left.includes(one.id)).map((one) => one.id) ?? [];
  const wishes = {
    one: { ...now?.proposed[0], ...changes.one },
    two: { ...now?.proposed[1], ...changes.two },
  };
  const asked = (each: "one" | "two") => ({
    wishes: wishes[each],
    cameras: left.length ? cameras : null,
    keep,
  });
  const one = useAssembly(now ? id : null, revision, asked("one"));
  const two = useAssembly(now ? id : null, revision, asked("two"));
  const found = which === "now" ? null : which === "one" ? one : two;

  const what = which === "now" || !found?.data ? null : JSON.stringify([asked(which), revision]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is proposed is the reason to try it out
  useEffect(() => {
    if (what && which !== "now") {
      propose({ kind: "cut.assemble", id: prefix, ...asked(which) }, scene?.frames.first ?? 0);
    } else propose(null);
  }, [what]);
  useEffect(() => {
    if (of !== id) useAsked.setState({ ...NOTHING_ASKED, of: id });
  }, [of, id]);
  useEffect(
    () => () => {
      pause();
      propose(null);
    },
    [],
  );
  if (!scene) return null;

  const choose = (next: Which) => {
    pause();
    setWhich(next);
  };
  const letters = new Map(scene.cameras.map((camera) => [camera.id, camera.letter]));
  const bars: Record<Which, Bar[]> = {
    now: scene.shots.map((shot) => ({
      id: shot.id,
      letter: (shot.camera && letters.get(shot.camera)) || null,
      frames: shot.gap_before + shot.stage.last - shot.stage.first + 1,
      said: shot.name,
    })),
    one: barsOf(one?.data ?? null, letters),
    two: barsOf(two?.data ?? null, letters),
  };
  const longest = Math.max(
    ...Object.values(bars).map((each) => each.reduce((sum, bar) => sum + bar.frames, 0)),
  );
  const measures = { now: now?.measures, one: one?.data?.measures, two: two?.data?.measures };
  const stays = keep ?? now?.staying ?? [];
  const show = (cut: number) => {
    lookThrough("cut");
    goCut(cut);
  };
  const take = async () => {
    if (which === "now") return;
    pause();
    propose(null);
    const command = { kind: "cut.assemble" as const, id: prefix, ...asked(which) };
    if (!complain(await send(command))) return propose(command, scene.frames.first);
    useAsked.setState({ keep: null });
    useView.setState({ side: null });
  };
  return (
    <aside aria-label="First assembly" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-1.5 border-b border-line px-3 py-2">
        <h2
          className="heading"
          title="Cut from the lines. What is chosen plays in the cut until it is taken."
        >
          First assembly
        </h2>
        <fieldset className="flex flex-col gap-1" aria-label="Which cut">
          {(["now", "one", "two"] as const).map((each) => (
            <label
              key={each}
              className={`flex cursor-pointer flex-col gap-0.5 rounded border px-2 py-1 ${which === each ? "border-slate bg-sheet" : "border-line"}`}
            >
              <span className="flex items-center gap-1.5 text-sm">
                <input
                  type="radio"
                  name="which-cut"
                  className="accent-slate"
                  checked={which === each}
                  onChange={() => choose(each)}
                />
                <b className="flex-1">{NAMES[each]}</b>
                <span className="text-xs text-faint tabular-nums">
                  {bars[each].length > 0 && `${bars[each].length} shot${bars[each].length === 1 ? "" : "s"}`}
                </span>
              </span>
              <ProposalStrip bars={bars[each]} of={longest} on={which === each} />
              <Numbers measures={measures[each] ?? null} />
            </label>
          ))}
        </fieldset>
      </div>
      {found?.problem && (
        <p className="px-3 py-2 text-sm" role="alert">
          <b>{found.problem.title}</b> {found.problem.remedy}
          <span className="mt-1 flex gap-1">
            {found.problem.field === "frames" && (
              <Button onClick={() => useView.setState({ side: "lines" })}>Lines</Button>
            )}
            {found.problem.field === "cameras" && (
              <Button onClick={() => useView.setState({ side: "coverage" })}>Cover…</Button>
            )}
          </span>
        </p>
      )}
      {which !== "now" && !found && <p className="px-3 py-2 text-sm text-faint">Working it out…</p>}
      <div className="min-h-0 flex-1 overflow-auto">
        {which !== "now" && <AssemblyWishes of={which} wishes={wishes[which]} stays={stays} />}
        <ol>
          {found?.data?.shots.map((shot) => (
            <li key={shot.id}>
              <button
                type="button"
                data-chosen={shot.name}
                className="flex w-full items-start gap-2 border-b border-line px-3 py-1.5 text-left text-sm hover:bg-sheet"
                onClick={() => show(shot.cut_first)}
              >
                <Letter letter={letters.get(shot.camera) ?? "?"} size={18} />
                <span className="min-w-0 flex-1">
                  <b>{shot.name}</b>{" "}
                  <span className="text-faint tabular-nums">
                    {((shot.last - shot.first + 1) / rate()).toFixed(1)} s
                  </span>
                  <span className="block text-xs text-faint">{shot.why}</span>
                </span>
                {shot.stays && <Lock size={14} aria-label="Stays as it is" />}
              </button>
            </li>
          ))}
        </ol>
        {found?.data?.said.map((one) => (
          <p key={one} className="px-3 py-1 text-xs text-faint">
            {one[0].toUpperCase() + one.slice(1)}.
          </p>
        ))}
      </div>
      <div className="flex items-center gap-2 border-t border-line px-3 py-2">
        <Button tone="main" disabled={!found?.data} onClick={() => void take()}>
          Take it
        </Button>
        <Button
          disabled={which !== "now" && !found?.data}
          onClick={() => {
            if (playing) return pause();
            show(0);
            play();
          }}
        >
          {playing ? "Stop" : "Play"}
        </Button>
        <span className="flex-1" />
        <Button onClick={() => useView.setState({ side: null })}>Close</Button>
      </div>
    </aside>
  );
}

function useAssembly(id: number | null, revision: number, asked: Omit<Does<"cut.assemble">, "kind" | "id">) {
  return useQuery({
    queryKey: ["assembly", id, revision, asked],
    enabled: id !== null,
    // The one before stays until the next is there.
    placeholderData: (was) => was,
    queryFn: async () =>
      ask(
        client.POST("/api/scenes/{scene_id}/assembly", {
          params: { path: { scene_id: id ?? 0 } },
          body: { wishes: asked.wishes, cameras: asked.cameras, keep: asked.keep },
        }),
      ),
  }).data;
}

const barsOf = (found: Schemas["AssemblyOut"] | null, letters: Map<string, string>): Bar[] =>
  (found?.shots ?? []).map((shot, i, all) => ({
    id: shot.id,
    letter: letters.get(shot.camera) ?? null,
    frames: shot.cut_last - (all[i - 1]?.cut_last ?? -1),
    said: `${shot.name}: ${shot.why}`,
  }));

/** A cut in four numbers. */
function Numbers({ measures }: { measures: Schemas["MeasuresOut"] | null }) {
  if (!measures) return null;
  const { pace, hearing, lead, size } = measures;
  const said = [
    `A shot lasts ${pace.toFixed(1)} s (median)`,
    `${Math.round(hearing * 100)} % of what is said is over whoever listens`,
    ...(lead === null ? [] : [`the picture changes ${signed(lead)} from where a line begins`]),
    `people are shown in a ${size}`,
  ];
  return (
    <span className="truncate text-xs text-faint tabular-nums" title={`${said.join("; ")}.`}>
      {pace.toFixed(1)} s · {Math.round(hearing * 100)} % listening
      {lead === null ? "" : ` · ${signed(lead)}`} · {size}
    </span>
  );
}
