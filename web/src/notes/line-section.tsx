import { useState } from "react";
import type { Does } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { useActionLine } from "../ui/action-line";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { OneOf } from "../ui/one-of";
import { newId } from "../verbs/new-id";

/** The line of action at this moment: whom it lies between, on which side each camera is, and how it is set. */
export function LineSection() {
  const line = useActionLine();
  const figures = useDocument((s) => s.scene?.figures);
  const shot = useDocument((s) => s.scene?.shots[useMoment.getState().shot]);
  const cameras = useDocument((s) => s.scene?.cameras);
  const [over, setOver] = useState<"shot" | "scene">("scene");
  if (!line || !figures || !cameras) return null;
  const frames = over === "shot" && shot ? { first: shot.stage.first, last: shot.stage.last } : null;
  const set = (how: Partial<Does<"action_line.set">>) => {
    // What holds for just these frames is set anew; another range is a line of its own.
    const same = JSON.stringify(line.set?.frames ?? null) === JSON.stringify(frames);
    const id = line.set && same ? line.set.id : newId("axis");
    void send({ kind: "action_line.set", id, of: [], points: null, off: false, frames, ...how }).then(
      complain,
    );
  };
  const pairs = figures.flatMap((a, i) => figures.slice(i + 1).map((b) => [a, b] as const)).slice(0, 30);
  const way = (off: number) => `${Math.abs(off).toFixed(0)}°`;
  return (
    <details className="border-b border-line px-3 py-2 text-sm">
      <summary className="cursor-pointer">
        Line of action: <b>{line.said}</b>
        {line.set ? "" : line.ends ? " (by their looks)" : ""}
      </summary>
      <div className="mt-2 flex flex-col gap-2">
        <OneOf
          label="For which frames"
          value={over}
          options={[
            { value: "scene", label: "Whole scene" },
            ...(shot ? [{ value: "shot" as const, label: `Shot ${shot.name}` }] : []),
          ]}
          onSet={setOver}
        />
        <select
          className="field"
          aria-label="The line lies"
          value=""
          onKeyDown={(e) => e.stopPropagation()}
          onChange={(e) => {
            const [how, a, b] = e.target.value.split(" ");
            if (how === "off") set({ off: true });
            else if (how) set({ of: b ? [a, b] : [a] });
          }}
        >
          <option value="">Set it…</option>
          {pairs.map(([a, b]) => (
            <option key={`${a.id} ${b.id}`} value={`of ${a.id} ${b.id}`}>
              between {a.name} and {b.name}
            </option>
          ))}
          {figures.map((one) => (
            <option key={one.id} value={`of ${one.id}`}>
              along {one.name}’s way
            </option>
          ))}
          <option value="off">no line here</option>
        </select>
        {line.set && (
          <Button
            onClick={() => void send({ kind: "action_line.drop", line: line.set?.id ?? "" }).then(complain)}
          >
            By their looks again
          </Button>
        )}
        <ul className="flex flex-col gap-0.5 text-xs" aria-label="Sides of the cameras">
          {line.cameras.map((one) => {
            const camera = cameras.find((each) => each.id === one.camera);
            return (
              camera && (
                <li key={one.camera} className="flex items-center gap-1.5">
                  <Letter letter={camera.letter} size={16} />
                  {one.side === "on" ? "on the line" : `${one.side} of it, ${way(one.off)}`}
                  {one.crosses !== null && <span className="text-faint">crosses it at {one.crosses}</span>}
                </li>
              )
            );
          })}
        </ul>
      </div>
    </details>
  );
}
