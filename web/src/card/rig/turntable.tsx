import { useEffect, useRef } from "react";
import type { Problem } from "../../api/types";
import { type Table, useView } from "../../store/view";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/choice";
import { NumberField } from "../../ui/number-field";
import { pickFor } from "../../verbs/rig";

const NO_TIME: Problem = {
  title: "A turn takes time.",
  remedy: "Give it seconds, usually 3 to 4.",
  detail: "A turn takes time. Give it seconds, usually 3 to 4.",
  status: 422,
};

/** How a turntable turns, and then the press that says what it goes round. */
export function Turntable({ onDone }: { onDone: () => void }) {
  const table = useView((s) => s.table);
  const picking = useView((s) => s.picking === "turntable");
  const was = useRef(false);
  // What it goes round can be pointed at from the beginning; the numbers may be changed before.
  useEffect(() => {
    if (useView.getState().picking !== "turntable") pickFor("turntable");
  }, []);
  useEffect(() => {
    // Once it is pointed at, or left, there is nothing more to choose.
    if (was.current && !picking) onDone();
    was.current = picking;
  }, [picking, onDone]);
  const set = (part: Partial<Table>) => useView.setState((s) => ({ table: { ...s.table, ...part } }));
  return (
    <div className="flex flex-col gap-1.5 border border-line bg-paper p-2" data-testid="turntable">
      <b className="text-sm">Turntable, from this frame</b>
      <NumberField
        label="Seconds a turn"
        value={table.seconds}
        unit="s"
        step={0.25}
        onSet={async (seconds) => {
          if (!(seconds > 0)) return NO_TIME;
          set({ seconds });
          return null;
        }}
      />
      <Choice
        label="Turns"
        value={table.turns}
        options={[
          { value: "camera", label: "the camera, round it" },
          { value: "subject", label: "the subject itself" },
        ]}
        onSet={(turns) => set({ turns, ...(turns === "subject" && { sun: "stays" }) })}
      />
      <Choice
        label="To the"
        value={table.direction}
        options={[
          { value: "left", label: "left" },
          { value: "right", label: "right" },
        ]}
        onSet={(direction) => set({ direction })}
      />
      {table.turns === "camera" && (
        <Choice
          label="The sun"
          value={table.sun}
          options={[
            { value: "stays", label: "stays with the set" },
            { value: "rides", label: "rides with the camera" },
          ]}
          onSet={(sun) => set({ sun })}
        />
      )}
      <div className="flex items-center gap-1">
        <p className="flex-1 text-sm font-semibold">Now click what to go round.</p>
        <Button onClick={() => useView.setState({ picking: null })}>Close</Button>
      </div>
    </div>
  );
}
