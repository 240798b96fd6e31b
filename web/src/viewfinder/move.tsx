import { MoveRight } from "lucide-react";
import { useEffect, useState } from "react";
import type { Camera, Command, Does, Problem } from "../api/types";
import { useDocument } from "../store/document";
import { FEELS } from "../store/feels";
import { dropLoose, useLoose } from "../store/loose";
import { rate, useMoment } from "../store/moment";
import { roverPose } from "../store/rover";
import { preview, send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { Popped } from "../ui/menu";
import { NumberField } from "../ui/number-field";
import { subjectsOf } from "../verbs/subjects";

type Move = Does<"camera.move">;
type What = Move["what"] | "hold" | "jump";
type Feel = NonNullable<Move["feel"]> | "overshoot";

/** What a camera can be told to do: how it is said, its unit and usual amount, and the words for either way. */
const MOVES: {
  what: What;
  says: string;
  unit?: string;
  usual?: number;
  ways?: [string, string];
  of?: boolean;
}[] = [
  { what: "pan", says: "pan", unit: "°", usual: 20, ways: ["to the left", "to the right"] },
  { what: "tilt", says: "tilt", unit: "°", usual: 10, ways: ["up", "down"] },
  { what: "roll", says: "roll", unit: "°", usual: 5, ways: ["counter-clockwise", "clockwise"] },
  { what: "dolly", says: "dolly", unit: "m", usual: 1, ways: ["in", "out"] },
  { what: "truck", says: "truck", unit: "m", usual: 1, ways: ["to the right", "to the left"] },
  { what: "boom", says: "boom", unit: "m", usual: 0.5, ways: ["up", "down"] },
  { what: "zoom", says: "zoom", unit: "mm", usual: 10, ways: ["in", "out"] },
  { what: "arc", says: "go round", unit: "°", usual: 30, ways: ["to the right", "to the left"], of: true },
  { what: "close in", says: "close in on", unit: "m", usual: 0.5, ways: ["nearer", "farther"], of: true },
  { what: "swing onto", says: "swing on to", of: true },
  { what: "look as", says: "look as they look", of: true },
  { what: "straighten", says: "straighten up" },
  { what: "view", says: "go to a view" },
  { what: "jump", says: "cut to a view, by keys" },
  { what: "hold", says: "stand still" },
];

/** Feels of a move; the last goes too far by a share of the way, then comes back. */
const MOVE_FEELS: { value: Feel; label: string }[] = [
  ...FEELS,
  { value: "overshoot", label: "overshooting, then settling" },
];

/** Have a camera do something said in a sentence: it becomes ordinary keys. */
export function MoveIt({ camera }: { camera: Camera }) {
  return (
    <Popped
      label="Move the camera"
      trigger={
        <button
          type="button"
          className="flex items-center gap-1 text-sm whitespace-nowrap hover:underline disabled:no-underline"
          title="Say what the camera does: pan, dolly, go round somebody, hold…"
          disabled={camera.locked}
          data-testid="move"
        >
          <MoveRight size={14} className="text-faint" />
          Move…
        </button>
      }
    >
      <Sentence camera={camera} />
    </Popped>
  );
}

function Sentence({ camera }: { camera: Camera }) {
  const scene = useDocument((s) => s.scene);
  const revision = useDocument((s) => s.revision);
  const loose = useLoose((s) => (s.loose?.camera === camera.id ? s.loose : null));
  const stage = useMoment((s) => s.stage);
  const loop = useMoment((s) => (s.loop?.clock === "stage" ? s.loop : null));
  const fps = rate();
  const last_ = scene?.frames.last ?? stage;
  const [what, setWhat] = useState<What>("dolly");
  const [amounts, setAmounts] = useState<Partial<Record<What, number>>>({});
  const [back, setBack] = useState(false);
  const [whom, setWhom] = useState("");
  const [where, setWhere] = useState("");
  const [by, setBy] = useState("");
  const [begin, setBegin] = useState<number | null>(null);
  const [frames, setFrames] = useState<number | null>(null);
  const [timed, setTimed] = useState(true);
  const [feel, setFeel] = useState<Feel>("soft");
  const [over, setOver] = useState(5);
  const [settle, setSettle] = useState(7);
  const [later, setLater] = useState<"stay" | "move">("stay");
  const [drift, setDrift] = useState({ m: 0, deg: 0 });
  const [said, setSaid] = useState<{ text: string; wrong: boolean }>({ text: "", wrong: false });

  const move = MOVES.find((m) => m.what === what) ?? MOVES[0];
  const spots = subjectsOf(scene, "eyes");
  const of = spots.find((s) => s.value === whom) ?? spots[0];
  // Over the loop where one is set; else two seconds from here, as far as the scene goes.
  const first = begin ?? loop?.first ?? Math.min(stage, last_ - 1);
  const count =
    frames ??
    (loop && begin === null ? loop.last - loop.first : Math.min(Math.round(2 * fps), last_ - first));
  const views = [
    { value: "", label: "the rover's" },
    ...(scene?.perches ?? []).map((p) => ({ value: p.id, label: p.name })),
  ];
  const perch = views.find((v) => v.value === where)?.value;
  const view = perch ? { perch } : { to: roverPose() };
  const untimed = what === "hold" || what === "jump";
  const amount = amounts[what] ?? move.usual ?? 0;

  const command = (): Command => {
    if (what === "hold")
      return {
        kind: "camera.hold",
        camera: camera.id,
        first,
        seconds: count / fps,
        drift_m: drift.m,
        drift_deg: drift.deg,
      };
    if (what === "jump") return { kind: "camera.jump", camera: camera.id, frame: first, ...view, later };
    const at = spots.find((s) => s.value === by);
    return {
      kind: "camera.move",
      camera: camera.id,
      what,
      ...(move.unit && { amount: back ? -amount : amount }),
      ...(move.of && of && { of: of.spot }),
      ...((what === "dolly" || what === "truck") && at && { by: at.spot }),
      ...(what === "view" && view),
      first,
      ...(timed && { last: first + count }),
      ...(feel === "overshoot" ? { over: over / 100, settle } : { feel }),
    };
  };
  const asked = JSON.stringify(command());
  // biome-ignore lint/correctness/useExhaustiveDependencies: another revision may say something else
  useEffect(() => {
    let wanted = true;
    void preview(JSON.parse(asked), first).then(({ data, problem }) => {
      if (!wanted) return;
      if (data) setSaid({ text: `${data.sentence}.`, wrong: false });
      else if (problem) setSaid({ text: problem.detail, wrong: true });
    });
    return () => {
      wanted = false;
    };
  }, [asked, first, revision]);

  const keep =
    (set: (n: number) => void) =>
    async (n: number): Promise<Problem | null> => {
      set(n);
      return null;
    };
  return (
    <div className="flex w-80 flex-col gap-1.5 p-1.5" data-testid="move-sentence">
      <Choice
        label={`Camera ${camera.letter} is to`}
        value={what}
        options={MOVES.map((m) => ({ value: m.what, label: m.says }))}
        onSet={(to) => {
          setWhat(to);
          setBack(false);
        }}
      />
      {move.of && of && <Choice label="Whom" value={of.value} options={spots} onSet={setWhom} />}
      {(what === "view" || what === "jump") && (
        <Choice label="Which view" value={perch ?? ""} options={views} onSet={setWhere} />
      )}
      {move.unit && (
        <NumberField
          label="By"
          unit={move.unit}
          value={amount}
          digits={move.unit === "m" ? 2 : 1}
          step={move.unit === "m" ? 0.05 : 1}
          onSet={keep((n) => {
            setBack(n < 0 ? !back : back);
            setAmounts((was) => ({ ...was, [what]: Math.abs(n) }));
          })}
        />
      )}
      {move.ways && (
        <Choice
          label="Which way"
          value={back ? "1" : "0"}
          options={move.ways.map((label, i) => ({ value: String(i), label }))}
          onSet={(to) => setBack(to === "1")}
        />
      )}
      {(what === "dolly" || what === "truck") && (
        <Choice
          label="In the directions of"
          value={by}
          options={[{ value: "", label: "the camera" }, ...spots]}
          onSet={setBy}
        />
      )}
      {what === "jump" && (
        <>
          <NumberField
            label="On frame"
            value={first}
            digits={0}
            step={1}
            onSet={keep((n) => setBegin(Math.round(n)))}
          />
          <Choice
            label="Later keys"
            value={later}
            options={[
              { value: "stay", label: "stay as they are" },
              { value: "move", label: "move with the new view" },
            ]}
            onSet={setLater}
          />
        </>
      )}
      {what !== "hold" && what !== "jump" && (
        <Choice
          label="When"
          value={timed ? "over" : "now"}
          options={[
            { value: "over", label: "over some frames" },
            { value: "now", label: "at once, here" },
          ]}
          onSet={(to) => setTimed(to === "over")}
        />
      )}
      {(timed || what === "hold") && what !== "jump" && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="From"
            value={first}
            digits={0}
            step={1}
            onSet={keep((n) => setBegin(Math.round(n)))}
            compact
          />
          <NumberField
            label="For"
            value={count}
            digits={0}
            step={1}
            perSecond={fps}
            unit="f"
            compact
            onSet={keep((n) => setFrames(Math.round(n)))}
          />
        </div>
      )}
      {timed && !untimed && <Choice label="Feel" value={feel} options={MOVE_FEELS} onSet={setFeel} />}
      {timed && feel === "overshoot" && !untimed && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Too far by"
            unit="%"
            value={over}
            digits={0}
            step={1}
            onSet={keep(setOver)}
            compact
          />
          <NumberField
            label="Settles in"
            unit="f"
            value={settle}
            digits={0}
            step={1}
            onSet={keep((n) => setSettle(Math.round(n)))}
            compact
          />
        </div>
      )}
      {what === "hold" && (
        <>
          <NumberField
            label="Drifts in by"
            unit="m"
            value={drift.m}
            digits={3}
            step={0.01}
            onSet={keep((m) => setDrift({ ...drift, m }))}
          />
          <NumberField
            label="Drifts to the left by"
            unit="°"
            value={drift.deg}
            digits={2}
            step={0.1}
            onSet={keep((deg) => setDrift({ ...drift, deg }))}
          />
        </>
      )}
      <p
        className={`min-h-9 text-sm ${said.wrong ? "text-brick" : ""}`}
        role={said.wrong ? "alert" : undefined}
      >
        {said.text}
      </p>
      {loose && <p className="text-xs text-faint">The camera was moved and is not kept: that is dropped.</p>}
      <Button
        tone="main"
        disabled={said.wrong}
        onClick={async () => {
          if (loose) dropLoose();
          complain(await send(command()));
        }}
      >
        Do it
      </Button>
    </div>
  );
}
