import { useQuery } from "@tanstack/react-query";
import { Eye, EyeOff, Lock, LockOpen, MousePointer2, MousePointer2Off } from "lucide-react";
import { partsOfScene } from "../api/queries";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, type Pickable, useView } from "../store/view";
import { Button } from "../ui/button";
import { lately } from "../ui/when";
import { Section } from "./section";

/** What a press no longer picks where a part is put aside. */
const ASIDE: Partial<Record<string, keyof Pickable>> = { set: "set", acting: "people", cameras: "cameras" };

/** A part is put aside, on this desk alone, while somebody works on another one. */
function Aside({ picks, called }: { picks: keyof Pickable; called: string }) {
  const pickable = useView((s) => s.pickable);
  const aside = !pickable[picks];
  return (
    <Button
      aria-label={`${aside ? "Take up" : "Put aside"} ${called}`}
      tip={
        aside
          ? `Work on ${called} again`
          : `Put ${called} aside: faint on the plan, not picked by a press, without lanes; only here`
      }
      on={aside}
      onClick={() => useView.setState({ pickable: { ...pickable, [picks]: aside } })}
    >
      {aside ? <MousePointer2Off size={13} /> : <MousePointer2 size={13} />}
    </Button>
  );
}

/** The parts of the scene: each can be locked, hidden or put aside as a whole, and says who changed it last. */
export function Parts() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(partsOfScene(id, revision));
  return (
    <Section title="Parts">
      {data?.map(({ part, called, locked, hidden, last }) => (
        <div key={part} className="flex items-start gap-2 text-sm" data-part={part}>
          <Button
            aria-label={`${locked ? "Unlock" : "Lock"} ${called}`}
            tip={
              locked ? `Unlock ${called}` : `Lock ${called}: nobody changes any of it until it is unlocked`
            }
            on={locked}
            onClick={async () => complain(await send({ kind: "part.lock", part, locked: !locked }))}
          >
            {locked ? <Lock size={13} /> : <LockOpen size={13} />}
          </Button>
          {hidden !== null && (
            <Button
              aria-label={`${hidden ? "Show" : "Hide"} ${called}`}
              tip={hidden ? `Show all of ${called}` : `Hide all of ${called}`}
              on={hidden}
              onClick={async () => complain(await send({ kind: "part.hide", part, hidden: !hidden }))}
            >
              {hidden ? <EyeOff size={13} /> : <Eye size={13} />}
            </Button>
          )}
          {ASIDE[part] && <Aside picks={ASIDE[part]} called={called} />}
          <div className="min-w-0 flex-1">
            <span className="font-semibold">
              {called.replace("the ", "").replace(/^./, (c) => c.toUpperCase())}
            </span>
            <p className="truncate text-xs text-faint" title={last?.sentence}>
              {last ? `${last.author}, ${lately(last.at)}: ${last.sentence}` : "Unchanged since it was made"}
            </p>
          </div>
        </div>
      ))}
    </Section>
  );
}
