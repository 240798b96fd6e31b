import { Mic } from "lucide-react";
import type { Command, Scene, SpokenLine } from "../api/types";
import { recordLine } from "../sound/recorder";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { ownKeys } from "../ui/own-keys";

const DROP = "drop";

/** Which recording of a line is heard, and the button that makes another. */
export function Recorded({ scene, line }: { scene: Scene; line: SpokenLine }) {
  const sound = scene.sounds.find((one) => one.line === line.id);
  const does = (command: Command) => void send(command).then(complain);
  return (
    <>
      {sound && (
        <select
          className="field w-20 text-xs"
          aria-label={`Try of “${line.text}”`}
          title="Which try is heard"
          value={sound.name}
          onKeyDown={ownKeys}
          onChange={(e) => {
            const name = e.target.value;
            if (name !== DROP) does({ kind: "sound.choose", sound: sound.id, name });
            else if (sound.tries.length) does({ kind: "sound.drop_try", sound: sound.id, name: sound.name });
            else does({ kind: "things.delete", ids: [sound.id] });
          }}
        >
          {[sound.name, ...sound.tries.map((one) => one.name)].sort().map((name) => (
            <option key={name}>{name}</option>
          ))}
          <option value={DROP}>Delete “{sound.name}”</option>
        </select>
      )}
      <Button
        tip={`Record “${line.text}” by microphone over the picture, after a count`}
        onClick={() => void recordLine(line.id)}
      >
        <Mic size={14} />
      </Button>
    </>
  );
}
