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

/** Which joint of a file is which of a figure's; each can be corrected, and the file is read again. */
export function JointTable({ file, there, low }: { file: Incoming; there: BroughtFile; low?: boolean }) {
  return (
    <div className={`${low ? "max-h-32" : "max-h-64"} overflow-auto rounded border border-line p-2`}>
      <p className="mb-1 text-sm text-faint">Which joint is which; correct what is not right.</p>
      <div className="grid grid-cols-2 gap-x-6 gap-y-1">
        {Object.entries(there.joints).map(([ours, theirs]) => (
          <Choice
            key={ours}
            label={inWords(ours)}
            value={theirs}
            options={there.names.map((value) => ({ value, label: value }))}
            onSet={(name) => void readAgain(file.id, { map: { ...file.asked.map, [ours]: name } })}
          />
        ))}
      </div>
    </div>
  );
}
