import { useQuery } from "@tanstack/react-query";
import { Lock, LockOpen } from "lucide-react";
import { partsOfScene } from "../api/queries";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { lately } from "../ui/when";
import { Section } from "./section";

/** The parts of the scene: each can be locked as a whole, and says who changed it last. */
export function Parts() {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const { data } = useQuery(partsOfScene(id, revision));
  return (
    <Section title="Parts">
      {data?.map(({ part, called, locked, last }) => (
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
