import { useQuery } from "@tanstack/react-query";
import { RotateCw } from "lucide-react";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import type { Command, LookoutOut } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { lookAhead, useProposed } from "../store/proposed";
import { propose, sendAll, together } from "../store/sending";
import { complain, useView } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { OneOf } from "../ui/one-of";
import { Refusal } from "../ui/refusal";
import { meantCamera } from "../verbs/cameras";
import { newId } from "../verbs/new-id";
import { Asking, NO_WISH, type Wish } from "./asking";

type Over = "shot" | "frame" | "all";

/** Views that are asked for, found by the core: as pictures on the wall, on the plan, and with their reasons here. */
export function LookoutsPanel() {
  const id = useDocument((s) => s.id) ?? 0;
  const scene = useDocument((s) => s.scene);
  const shown = useDocument((s) => s.shown);
  const [wish, setWish] = useState<Wish>(() => {
    const { kind, ids } = useView.getState();
    return { ...NO_WISH, figures: kind === "figure" ? ids : [] };
  });
  const shot = useMoment((s) => s.shot);
  const [over, setOver] = useState<Over>(scene?.shots.length ? "shot" : "all");
  const [frame, setFrame] = useState(() => useMoment.getState().stage);
  const [turn, setTurn] = useState(0);
  // The one that was looked through when views were first asked for.
  const [camera] = useState(meantCamera);
  const [prefix, setPrefix] = useState(() => newId("look"));
  const [taken, setTaken] = useState<string[]>([]);
  const stage = over === "shot" ? scene?.shots[shot]?.stage : over === "all" ? scene?.frames : null;
  const frames = stage ? { first: stage.first, last: stage.last } : { first: frame, last: frame };
  const within = Math.min(Math.max(frame, frames.first), frames.last);
  const asked = { asked: wish, frames, camera, frame: within, id: prefix, count: 6 };
  const search = (rounds: number) => ({
    queryKey: ["lookouts", id, asked, turn, rounds],
    queryFn: async ({ signal }: { signal: AbortSignal }) =>
      ask(
        client.POST("/api/scenes/{scene_id}/lookouts", {
          params: { path: { scene_id: id } },
          body: { ...asked, rounds },
          signal,
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const first = useQuery(search(0));
  // Sooner, then better.
  const second = useQuery({ ...search(2), enabled: first.data !== undefined && !first.data.problem });
  const answer = second.data ?? first.data;
  const refused = answer?.problem ?? null;
  const found = ((answer?.data ?? []) as LookoutOut[]).filter((one) => !taken.includes(idOf(one)));
  const ids = found.map(idOf);

  // biome-ignore lint/correctness/useExhaustiveDependencies: other views are the reason to try them out
  useEffect(() => {
    if (!scene) return;
    if (!found.length) {
      propose(null);
      useProposed.setState({ ids: [] });
      return;
    }
    propose(together(found.map((one) => one.make as Command)), scene.frames.first, scene.frames.last);
    useProposed.setState({ ids });
    useView.setState({ wall: true, held: [] });
  }, [ids.join(), JSON.stringify(found.map((one) => one.pose))]);
  useEffect(() => () => useProposed.setState({ ids: [] }), []);
  useEffect(
    () => () => {
      propose(null);
      useView.setState(({ through }) => ({
        wall: false,
        through: typeof through === "object" && through.camera.startsWith("look-") ? "rover" : through,
      }));
    },
    [],
  );

  const again = () => {
    setPrefix(newId("look"));
    setTaken([]);
    setFrame(useMoment.getState().stage);
    setTurn(turn + 1);
  };
  const take = async (view: LookoutOut, commands: Command[], stays: boolean) => {
    propose(null);
    if (!complain(await sendAll(commands))) return;
    if (!stays) return useView.setState({ side: null });
    setTaken([...taken, idOf(view)]);
    if (commands[0].kind === "camera.add") useView.setState({ through: { camera: idOf(view) } });
  };
  const there = itemOf(scene, "cameras", camera);
  const looking = first.isFetching || second.isFetching;
  return (
    <aside aria-label="Lookouts" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading flex items-baseline justify-between">
          Lookouts
          <span className="text-sm font-normal text-faint normal-case" role="status">
            {looking ? (second.isFetching && found.length ? "looking closer…" : "looking…") : ""}
          </span>
        </h2>
        <Asking wish={wish} onWish={setWish} />
        <div className="flex items-center justify-between gap-1 text-sm">
          <OneOf
            label="Over which frames"
            value={over}
            options={[
              ...(scene?.shots.length
                ? [{ value: "shot" as const, label: `Shot ${scene.shots[shot]?.name ?? ""}` }]
                : []),
              { value: "frame", label: `Frame ${frame}` },
              { value: "all", label: "Stage" },
            ]}
            onSet={setOver}
          />
          <Button
            aria-label="Look again"
            tip="Look again, at this frame and with the scene as it is now"
            onClick={again}
          >
            <RotateCw size={14} />
          </Button>
        </div>
      </div>
      <Refusal problem={refused} />
      <ul className="min-h-0 flex-1 overflow-auto" aria-label="Views that were found">
        {found.map((one) => (
          <View
            key={idOf(one)}
            one={one}
            letter={itemOf(shown, "cameras", idOf(one))?.letter ?? null}
            there={there && !there.locked ? there.letter : null}
            frame={within}
            onTake={(commands, stays) => void take(one, commands, stays)}
          />
        ))}
      </ul>
      <div className="flex items-center gap-2 border-t border-line px-3 py-2">
        <Button onClick={() => useView.setState({ wall: true })}>Wall</Button>
        <span className="flex-1" />
        <Button onClick={() => useView.setState({ side: null })}>Close</Button>
      </div>
    </aside>
  );
}

const idOf = (one: LookoutOut) => (one.make as Extract<Command, { kind: "camera.add" }>).id as string;

interface ViewProps {
  one: LookoutOut;
  letter: string | null;
  /** The letter of the camera that could be put there. */
  there: string | null;
  frame: number;
  onTake: (commands: Command[], stays: boolean) => void;
}

function View({ one, letter, there, frame, onTake }: ViewProps) {
  return (
    <li className="border-b border-line px-3 py-2 text-sm" data-lookout={letter}>
      <button
        type="button"
        className="flex w-full items-center gap-2 text-left hover:underline"
        title="Look through it"
        onClick={() => lookAhead(idOf(one))}
      >
        {letter && <Letter letter={letter} size={18} />}
        <b className="flex-1 truncate">{one.name}</b>
        <Good of={one.score} />
        <span className="tabular-nums">{one.focal_mm} mm</span>
      </button>
      <p className="mt-0.5 text-xs text-faint">{one.reasons.join("; ")}.</p>
      <div className="mt-1 flex flex-wrap gap-1">
        <Button tone="main" onClick={() => onTake([one.make as Command], true)}>
          Camera
        </Button>
        <Button tip="Keep it as a perch" onClick={() => onTake([one.perch as Command], true)}>
          Perch
        </Button>
        {there && (
          <>
            <Button
              tip={`Put camera ${there} there, with all of its path`}
              onClick={() => onTake(one.put as Command[], false)}
            >
              Move {there}
            </Button>
            <Button
              tip={`Key camera ${there} there at frame ${frame}`}
              onClick={() => onTake(one.key as Command[], false)}
            >
              Key {there}
            </Button>
          </>
        )}
      </div>
    </li>
  );
}

/** How good a view is, as a bar. */
function Good({ of }: { of: number }) {
  return (
    <span className="h-1.5 w-10 shrink-0 bg-line" role="img" aria-label={`${Math.round(of * 100)} of 100`}>
      <span className="block h-full bg-slate" style={{ width: `${of * 100}%` }} />
    </span>
  );
}
