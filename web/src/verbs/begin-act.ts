import { catalogue } from "../api/catalogue";
import type { Command, Does } from "../api/types";
import { showing, useDocument } from "../store/document";
import { goStage, pause, rate, useMoment } from "../store/moment";
import { applyPatch } from "../store/patch";
import { dropOverlay, preview, send } from "../store/sending";
import { complain } from "../store/view";
import { type ActKind, type Lane, selectActs } from "./acts";
import { newId } from "./new-id";

const stage = () => useMoment.getState().stage;

export const LANE_NAMES: Record<Lane, string> = {
  body: "Body",
  hands: "Hands",
  look: "Look",
  face: "Face",
  pose: "Pose",
};

/** Something that can be begun: a kind of act, or an expression of the face. */
export interface Begin {
  label: string;
  lane: Lane;
  kind: ActKind;
  expression?: Does<"figure.begin">["expression"];
}

/** What can be begun at once, lane by lane; what goes through points is drawn on the plan instead. */
export const BEGINS: Begin[] = catalogue.acts
  .filter((kind) => !kind.points && kind.kind !== "spin" && kind.kind !== "recorded")
  .flatMap((kind): Begin[] =>
    kind.choices.expression
      ? kind.choices.expression.map((name) => ({
          label: name[0].toUpperCase() + name.slice(1),
          lane: kind.lane,
          kind,
          expression: name as Begin["expression"],
        }))
      : [{ label: kind.label, lane: kind.lane, kind }],
  );

const beginning = (figure: string, begin: Begin, id: string): Command => ({
  kind: "figure.begin",
  id,
  figure,
  does: begin.kind.kind,
  expression: begin.expression ?? null,
  frame: stage(),
});

/** Have a figure begin something at the playhead. */
export async function beginAct(figure: string, begin: Begin): Promise<void> {
  stopTrial();
  const id = newId("act");
  if (complain(await send(beginning(figure, begin, id)))) selectActs(figure, [id]);
}

/** Have everybody look at whoever talks. */
export async function listen(): Promise<void> {
  stopTrial();
  complain(await send({ kind: "figures.listen" }));
}

let trial: { stop: () => void } | null = null;

/** Play what a figure would do, in a loop, while it is pointed at in a list; nothing is kept. */
export function playTrial(figure: string, begin: Begin): void {
  stopTrial();
  pause();
  const here = stage();
  let timer = 0;
  const mine = {
    stop: () => {
      window.clearInterval(timer);
      dropOverlay();
      goStage(here);
    },
  };
  trial = mine;
  void play();

  async function play(): Promise<void> {
    const command = beginning(figure, begin, TRIAL);
    const { scene } = useDocument.getState();
    const { data } = await preview(command, here);
    if (!data || !scene || trial !== mine) return;
    // It begins once the figure is free.
    const after = applyPatch(scene, data.patch).figures.find((one) => one.id === figure);
    const frames = after?.acts.find((act) => act.id === TRIAL)?.frames;
    const whole = frames && (await preview(command, frames.first, frames.last)).data;
    if (!frames || !whole || trial !== mine) return;
    useDocument.setState(showing(scene, whole));
    const began = performance.now();
    timer = window.setInterval(() => {
      const done = Math.floor(((performance.now() - began) / 1000) * rate());
      goStage(frames.first + (done % (frames.last - frames.first + 1)));
    }, 1000 / rate());
  }
}

const TRIAL = "act-trial";

/** Nothing is pointed at any more: back to the playhead. */
export function stopTrial(): void {
  trial?.stop();
  trial = null;
}
