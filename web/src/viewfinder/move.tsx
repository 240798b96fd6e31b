import { X } from "lucide-react";
import { useEffect, useState } from "react";
import type { Camera, Command, Problem } from "../api/types";
import { itemOf, useDocument } from "../store/document";
import { FEELS } from "../store/feels";
import { rate, useMoment } from "../store/moment";
import { roverPose } from "../store/rover";
import { useSeenCamera } from "../store/seen";
import { preview, send } from "../store/sending";
import { dropUnsaved, useUnsaved } from "../store/unsaved";
import { complain, toggleSide, useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { subjectsOf } from "../verbs/subjects";
import { choose, type Feel, MOVES, TURNS, useChosen } from "./moves-chosen";

/** Feels of a move; the last goes too far by a share of the way, then comes back. */
const MOVE_FEELS: { value: Feel; label: string }[] = [
  ...FEELS,
  { value: "overshoot", label: "overshooting, then settling" },
];

/** A move for the camera that is looked through or selected: it becomes ordinary keys. */
export function MovePanel() {
  const seen = useSeenCamera();
  const chosen = useView((s) => (s.kind === "camera" ? s.ids[0] : null));
  const camera = useDocument((s) => itemOf(s.scene, "cameras", chosen)) ?? seen;
  return (
    <aside aria-label="Move" className="h-full overflow-y-auto bg-paper">
      <div className="flex items-center border-b border-line px-3 py-2">
        <h2 className="heading flex-1">Move</h2>
        <Button tip="Back to the card" onClick={() => toggleSide("move")}>
          <X size={14} />
        </Button>
      </div>
      {camera ? (
        <Sentence camera={camera} />
      ) : (
        <p className="px-3 py-2 text-sm text-faint">Look through a camera or select one to move it.</p>
      )}
    </aside>
  );
}

function Sentence({ camera }: { camera: Camera }) {
  const scene = useDocument((s) => s.scene);
  const revision = useDocument((s) => s.revision);
  const unsaved = useUnsaved((s) => (s.unsaved?.camera === camera.id ? s.unsaved : null));
  const stage = useMoment((s) => s.stage);
  const loop = useMoment((s) => (s.loop?.clock === "stage" ? s.loop : null));
  const fps = rate();
  const last_ = scene?.frames.last ?? stage;
  const { what, turn, amounts, back, whom, where, by, begin, frames, feel, over, settle, later, drift } =
    useChosen();
  const timed = useChosen((s) => s.timed) || what === "dolly zoom";
  const [said, setSaid] = useState<{ text: string; wrong: boolean }>({ text: "", wrong: false });

  const move = MOVES.find((m) => m.what === what) ?? MOVES[0];
  const takes = what === "turn" ? TURNS.find((one) => one.what === turn)?.of : move.of;
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
  const amount = amounts[what] ?? move.usual;

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
      what: what === "turn" ? turn : what,
      ...(move.unit && { amount: back ? -amount : amount }),
      ...(takes && of && { of: of.spot }),
      ...(move.directions && at && { by: at.spot }),
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
    <div className="flex flex-col gap-1.5 px-3 py-2" data-testid="move-sentence">
      <Choice
        label={`Camera ${camera.letter} is to`}
        value={what}
        options={MOVES.map((m) => ({ value: m.what, label: m.says }))}
        onSet={(to) => choose({ what: to, back: false })}
      />
      {what === "turn" && (
        <Choice
          label="Which way"
          value={turn}
          options={TURNS.map((one) => ({ value: one.what, label: one.says }))}
          onSet={(to) => choose({ turn: to })}
        />
      )}
      {takes && of && (
        <Choice label="Whom" value={of.value} options={spots} onSet={(whom) => choose({ whom })} />
      )}
      {(what === "view" || what === "jump") && (
        <Choice label="Which view" value={perch ?? ""} options={views} onSet={(where) => choose({ where })} />
      )}
      {move.unit && (
        <NumberField
          label="By"
          unit={move.unit}
          value={amount}
          digits={move.unit === "m" ? 2 : 1}
          step={move.unit === "m" ? 0.05 : 1}
          onSet={keep((n) => {
            choose({ back: n < 0 ? !back : back, amounts: { ...amounts, [what]: Math.abs(n) } });
          })}
        />
      )}
      {move.unit && (
        <Choice
          label="Which way"
          value={back ? "1" : "0"}
          options={move.ways.map((label, i) => ({ value: String(i), label }))}
          onSet={(to) => choose({ back: to === "1" })}
        />
      )}
      {move.directions && (
        <Choice
          label="In the directions of"
          value={by}
          options={[{ value: "", label: "the camera" }, ...spots]}
          onSet={(by) => choose({ by })}
        />
      )}
      {what === "jump" && (
        <>
          <NumberField
            label="On frame"
            value={first}
            digits={0}
            step={1}
            onSet={keep((n) => choose({ begin: Math.round(n) }))}
          />
          <Choice
            label="Later keys"
            value={later}
            options={[
              { value: "stay", label: "stay as they are" },
              { value: "move", label: "move with the new view" },
            ]}
            onSet={(later) => choose({ later })}
          />
        </>
      )}
      {what !== "hold" && what !== "jump" && what !== "dolly zoom" && (
        <Choice
          label="When"
          value={timed ? "over" : "now"}
          options={[
            { value: "over", label: "over some frames" },
            { value: "now", label: "at once, here" },
          ]}
          onSet={(to) => choose({ timed: to === "over" })}
        />
      )}
      {(timed || what === "hold") && what !== "jump" && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="From"
            value={first}
            digits={0}
            step={1}
            onSet={keep((n) => choose({ begin: Math.round(n) }))}
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
            onSet={keep((n) => choose({ frames: Math.round(n) }))}
          />
        </div>
      )}
      {timed && !untimed && (
        <Choice label="Feel" value={feel} options={MOVE_FEELS} onSet={(feel) => choose({ feel })} />
      )}
      {timed && feel === "overshoot" && !untimed && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Too far by"
            unit="%"
            value={over}
            digits={0}
            step={1}
            onSet={keep((over) => choose({ over }))}
            compact
          />
          <NumberField
            label="Settles in"
            unit="f"
            value={settle}
            digits={0}
            step={1}
            onSet={keep((n) => choose({ settle: Math.round(n) }))}
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
            onSet={keep((m) => choose({ drift: { ...drift, m } }))}
          />
          <NumberField
            label="Drifts to the left by"
            unit="°"
            value={drift.deg}
            digits={2}
            step={0.1}
            onSet={keep((deg) => choose({ drift: { ...drift, deg } }))}
          />
        </>
      )}
      <p
        className={`min-h-9 text-sm ${said.wrong ? "text-brick" : ""}`}
        role={said.wrong ? "alert" : undefined}
      >
        {said.text}
      </p>
      {unsaved && <p className="text-xs text-faint">The unsaved camera move will be discarded.</p>}
      <Button
        tone="main"
        disabled={said.wrong}
        onClick={async () => {
          if (unsaved) dropUnsaved();
          complain(await send(command()));
        }}
      >
        Apply
      </Button>
    </div>
  );
}
