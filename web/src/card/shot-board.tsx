import { useRef } from "react";
import { boardUrl } from "../api/client";
import type { Shot } from "../api/types";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { putBoard, takesBoard } from "../verbs/boards";
import { HeldAgainst } from "./held-against";
import { Section } from "./section";

/** The picture that stands for a shot, and how it is held against the camera's. */
export function ShotBoard({ shot }: { shot: Shot }) {
  const file = useRef<HTMLInputElement>(null);
  const { boards, boardStrength } = usePreferences();
  return (
    <Section
      title="Board"
      side={
        <Button onClick={() => file.current?.click()}>{shot.board ? "Another…" : "Choose a picture…"}</Button>
      }
    >
      <input
        ref={file}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        hidden
        aria-label="Picture of the board"
        onChange={(e) => {
          void putBoard(shot.id, e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      {!shot.board && (
        <p className="text-sm text-faint" {...takesBoard(shot.id)}>
          Drop a PNG, JPEG or WebP here or on the shot. It is shown as long as there is no camera.
        </p>
      )}
      {shot.board && (
        <>
          <img
            src={boardUrl(shot.board)}
            alt={`Board of shot ${shot.name}`}
            className="max-h-40 w-full bg-black object-contain"
            {...takesBoard(shot.id)}
          />
          {shot.camera && (
            <HeldAgainst
              held={boards}
              strength={boardStrength}
              over={{ label: "Over", tip: "Over the camera's picture" }}
              onSet={({ held = boards, strength = boardStrength }) =>
                usePreferences.setState({ boards: held, boardStrength: strength })
              }
            />
          )}
          <Button onClick={async () => complain(await send({ kind: "shot.set", shot: shot.id, board: "" }))}>
            Take it off
          </Button>
        </>
      )}
    </Section>
  );
}
