import { useQuery } from "@tanstack/react-query";
import { Copy, Lock, LockOpen, Trash2 } from "lucide-react";
import { useState } from "react";
import { libraryFiles } from "../api/queries";
import type { Command, Piece } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { endTry, send, tryOut } from "../store/sending";
import { complain, select, toggleSide } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { ColourField } from "../ui/colour-field";
import { NumberField } from "../ui/number-field";
import { TextField } from "../ui/text-field";
import { Tick } from "../ui/tick";
import { newId } from "../verbs/new-id";
import { duplicateSelected, frameSelected, removeSelected } from "../verbs/things";
import { HideButton } from "./hide-button";
import { Section } from "./section";

const FINISHES = [
  { value: "plain", label: "plain" },
  { value: "boards", label: "boards" },
  { value: "lit", label: "shines" },
  { value: "trees", label: "a tree line (backdrop)" },
] as const;

const NUMBERS: ["width" | "depth" | "height" | "x" | "z" | "base" | "heading", string, string][] = [
  ["width", "Width", "m"],
  ["depth", "Depth", "m"],
  ["height", "Height", "m"],
  ["x", "Across", "m"],
  ["z", "Along", "m"],
  ["base", "Underside", "m"],
  ["heading", "Turned", "°"],
];

export function PieceCard({ pieces }: { pieces: Piece[] }) {
  const one = pieces.length === 1 ? pieces[0] : null;
  const ids = pieces.map((p) => p.id);
  const groups = new Set(pieces.map((p) => p.group));
  const group = groups.size === 1 ? [...groups][0] : "";
  const stage = useMoment((s) => s.stage);
  const everyone = useDocument((s) => s.scene?.pieces) ?? [];
  return (
    <div data-testid="piece-card">
      <div className="border-b border-line px-3 py-2.5">
        {one ? (
          <TextField
            names
            label={`Name of this ${one.source ? "part" : one.kind}`}
            value={one.name}
            onSet={(name, at) => send({ kind: "piece.set", piece: one.id, name }, at)}
          />
        ) : (
          <p className="font-semibold">{group ? `Group “${group}”` : `${pieces.length} set pieces`}</p>
        )}
        <div className="mt-2 flex gap-1">
          <Button tip="Frame in the rover's view" hint="F" onClick={frameSelected}>
            Frame
          </Button>
          <Button tip="Duplicate" hint="Ctrl D" onClick={duplicateSelected}>
            <Copy size={14} />
          </Button>
          <HideButton things={pieces} />
          <Button tip="Take down" hint="Delete" onClick={() => removeSelected()}>
            <Trash2 size={14} />
          </Button>
        </div>
      </div>
      {one && (
        <Section title="Size and place">
          {NUMBERS.map(([name, label, unit]) => {
            const command = (v: number) => ({ kind: "piece.set" as const, piece: one.id, [name]: v });
            return (
              <NumberField
                key={name}
                label={label}
                value={one[name]}
                unit={unit}
                step={name === "heading" ? 1 : 0.01}
                digits={name === "heading" ? 1 : 2}
                onTry={(v) => tryOut(command(v), stage)}
                onSet={(v, at) => {
                  endTry();
                  return send(command(v), at);
                }}
              />
            );
          })}
          <ColourField
            label={one.source ? "Tint" : "Colour"}
            value={one.colour}
            onSet={async (colour) => complain(await send({ kind: "piece.set", piece: one.id, colour }))}
          />
          {!one.source && (
            <Choice
              label="Finish"
              value={one.finish}
              options={FINISHES}
              onSet={async (finish) => complain(await send({ kind: "piece.set", piece: one.id, finish }))}
            />
          )}
        </Section>
      )}
      {!one && <MoveTogether ids={ids} />}
      <OfFile pieces={pieces} />
      <Movable pieces={pieces} />
      <Section title="Group">
        <TextField
          label="Group name; pieces of one name go together"
          value={group}
          placeholder="none"
          onSet={(name, at) => send({ kind: "pieces.group", ids, group: name }, at)}
        />
        {one?.group && (
          <Button
            onClick={() =>
              select(
                "piece",
                everyone.filter((p) => p.group === one.group).map((p) => p.id),
              )
            }
          >
            Select all of “{one.group}”
          </Button>
        )}
        <Button
          on={pieces.every((p) => p.locked)}
          tip="Locked cameras can't be moved, changed or deleted"
          onClick={async () =>
            complain(
              await send({
                kind: "things.lock",
                ...(group ? { group } : { ids }),
                locked: !pieces.every((p) => p.locked),
              }),
            )
          }
        >
          {pieces.every((p) => p.locked) ? <Lock size={13} /> : <LockOpen size={13} />}
          {pieces.every((p) => p.locked) ? "Unlock" : "Lock"}{" "}
          {group ? `all of “${group}”` : ids.length > 1 ? "these" : "it"}
        </Button>
      </Section>
    </div>
  );
}

/** Which file parts of a set are of, and whether figures stand on them. */
function OfFile({ pieces }: { pieces: Piece[] }) {
  const { data: files } = useQuery(libraryFiles);
  const brought = pieces.filter((piece) => piece.source);
  if (!brought.length) return null;
  const key = brought[0].source?.file;
  const file = files?.find((one) => one.key === key);
  return (
    <Section title="Brought in">
      <p className="truncate text-sm" title={file?.name}>
        From <b>{file?.name ?? "a file that is not here"}</b>
      </p>
      <Tick
        on={brought.every((piece) => piece.source?.stood_on)}
        onSet={async (stood_on) =>
          complain(await send({ kind: "set.stand_on", ids: brought.map((piece) => piece.id), stood_on }))
        }
      >
        Figures can stand on {brought.length > 1 ? "them" : "it"}
      </Tick>
      <span>
        <Button onClick={() => toggleSide("library", true)}>Library</Button>
      </span>
    </Section>
  );
}

/** Pieces made into something that moves as one; or, of a part, what it is part of. */
function Movable({ pieces }: { pieces: Piece[] }) {
  const movers = useDocument((s) => s.scene?.movers) ?? [];
  const whole = movers.find((mover) => mover.id === pieces[0]?.part_of);
  const make = async () => {
    const id = newId("mov");
    const ids = pieces.map((piece) => piece.id);
    if (complain(await send({ kind: "mover.make", id, ids }))) select("mover", [id]);
  };
  return (
    <Section title="Moves">
      {whole ? (
        <p className="text-sm">
          Part of{" "}
          <button
            type="button"
            className="font-semibold underline"
            onClick={() => select("mover", [whole.id])}
          >
            {whole.name}
          </button>
          ; its place is in that one's own frame.
        </p>
      ) : (
        <span>
          <Button
            tip="From then on it can be keyed, held, ridden on, hung on a hinge"
            disabled={pieces.some((piece) => piece.part_of)}
            onClick={make}
          >
            Make movable
          </Button>
        </span>
      )}
    </Section>
  );
}

/** Numbers that move several pieces by so much. */
function MoveTogether({ ids }: { ids: string[] }) {
  const [by, setBy] = useState({ dx: 0, dy: 0, dz: 0, turn: 0 });
  const command: Command = { kind: "things.move", ids, ...by };
  const field = (name: keyof typeof by, label: string, unit: string, step: number) => (
    <NumberField
      label={label}
      value={by[name]}
      unit={unit}
      step={step}
      onSet={async (v) => {
        setBy({ ...by, [name]: v });
        return null;
      }}
    />
  );
  return (
    <Section title="Move by">
      {field("dx", "Across", "m", 0.1)}
      {field("dy", "Up", "m", 0.1)}
      {field("dz", "Along", "m", 0.1)}
      {field("turn", "Turn left", "°", 5)}
      <Button
        tone="main"
        onClick={async () => {
          if (complain(await send(command))) setBy({ dx: 0, dy: 0, dz: 0, turn: 0 });
        }}
      >
        Move
      </Button>
    </Section>
  );
}
