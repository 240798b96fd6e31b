import type { BroughtFile } from "../api/types";
import type { Incoming } from "../store/bringing";
import { Choice } from "../ui/choice";
import { readAgain } from "../verbs/bringing";

/** A joint of a figure in words: "elbow_l" as "Left elbow". */
function inWords(joint: string): string {
  const [, name, side] = joint.match(/^(.*?)(?:_([rl]))?$/) ?? [];
  const text = side ? `${side === "r" ? "right" : "left"} ${name}` : name;
  return text[0].toUpperCase() + text.slice(1);
}

/** Say that a joint of a figure is called otherwise in a file, which is read again. */
export const correct = (file: Incoming, ours: string, name: string) =>
  void readAgain(file.id, { map: { ...file.asked.map, [ours]: name } });

/** Which joint of a file is which of a figure's; each can be corrected, and the file is read again. */
export function JointTable({
  file,
  there,
  low,
  chosen,
  onChoose,
}: {
  file: Incoming;
  there: BroughtFile;
  low?: boolean;
  /** The joint that is being corrected. */
  chosen?: string | null;
  onChoose?: (ours: string) => void;
}) {
  return (
    <div className="rounded border border-line p-2">
      <p className="mb-1 text-sm text-faint" data-testid="joint-hint">
        {chosen
          ? `${inWords(chosen)}: press its joint in the picture, or choose its name.`
          : "Which joint is which; correct what is not right."}
      </p>
      <div className={`${low ? "max-h-24" : "max-h-64"} grid grid-cols-2 gap-x-6 gap-y-1 overflow-auto`}>
        {Object.entries(there.joints).map(([ours, theirs]) => (
          <div
            key={ours}
            onFocus={() => onChoose?.(ours)}
            className={chosen === ours ? "rounded bg-slate-wash" : undefined}
          >
            <Choice
              label={inWords(ours)}
              value={theirs}
              options={there.names.map((value) => ({ value, label: value }))}
              onSet={(name) => correct(file, ours, name)}
            />
          </div>
        ))}
      </div>
    </div>
  );
}
