import { X } from "lucide-react";
import type { Shot } from "../api/types";
import { dressShot, useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, select } from "../store/view";
import { Button } from "../ui/button";
import { dressThis } from "../verbs/dressing";
import { Section } from "./section";

type Own = Shot["own"][number];

/** How fields are called on the card. */
const WORDS: Record<string, string> = {
  x: "moved", z: "moved", base: "moved", heading: "turned", width: "sized", depth: "sized", height: "sized",
  colour: "colour", hidden: "hidden", light: "light", haze_m: "haze", sun_bearing: "sun", sun_height: "sun",
  light_ev: "exposure of the light", fill: "fill", rim: "rim",
}; // biome-ignore format: a table

function words({ fields }: Own): string {
  if (fields.hidden === false) return "shown";
  return [...new Set(Object.keys(fields).map((name) => WORDS[name] ?? name))].join(", ");
}

/** What is otherwise for this shot alone: each can be taken off, and more is changed while the shot is dressed. */
export function ShotOwn({ shot }: { shot: Shot }) {
  const scene = useDocument((s) => s.shown);
  const dressing = useDocument((s) => s.dress === shot.id);
  const named = (one: Own) => {
    const id = one.piece ?? one.figure ?? one.mover;
    const kind = one.piece ? "piece" : one.figure ? "figure" : "mover";
    const all = [...(scene?.pieces ?? []), ...(scene?.figures ?? []), ...(scene?.movers ?? [])];
    return { id, kind, name: id ? (all.find((thing) => thing.id === id)?.name ?? id) : "The light" } as const;
  };
  const undress = async (one?: Own) => {
    const { id } = one ? named(one) : { id: null };
    const what = one ? (id ? { ids: [id] } : { surround: true }) : {};
    complain(await send({ kind: "shot.undress", shot: shot.id, ...what }));
  };
  return (
    <Section
      title="For this shot alone"
      side={
        <Button
          on={dressing}
          tip="While it is dressed, what you move, hide or light changes for this shot alone"
          hint="Shift S"
          onClick={() => (dressing ? dressShot(null) : dressThis(shot.id))}
        >
          {dressing ? "Done" : "Dress it"}
        </Button>
      }
    >
      {shot.own.length === 0 && (
        <p className="text-sm text-faint">
          Nothing. Dress it to move a piece, hide somebody or change the light here and nowhere else.
        </p>
      )}
      {shot.own.map((one) => {
        const { id, kind, name } = named(one);
        return (
          <div key={id ?? "light"} className="flex items-center gap-2 text-sm">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              onClick={() => id && select(kind, [id])}
            >
              {name} <span className="text-faint">{words(one)}</span>
            </button>
            <Button tip={`${name}: as in the scene again`} onClick={() => undress(one)}>
              <X size={13} />
            </Button>
          </div>
        );
      })}
      {shot.own.length > 1 && <Button onClick={() => undress()}>Take all off</Button>}
    </Section>
  );
}
