import { useRef } from "react";
import { boardUrl } from "../api/client";
import type { Shot } from "../api/types";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { OneOf } from "../ui/one-of";
import { putBoard, takesBoard } from "../verbs/boards";
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
            <>
              <OneOf
                label="In the viewfinder"
                value={boards}
                options={[
                  { value: "hidden", label: "Hidden", tip: "The camera's picture alone" },
                  { value: "beside", label: "Beside", tip: "Small, in the picture's corner" },
                  { value: "over", label: "Over", tip: "Over the camera's picture" },
                ]}
                onSet={(value) => usePreferences.setState({ boards: value })}
              />
              {boards === "over" && (
                <label className="flex items-center gap-2 text-sm">
                  Strength
                  <input
                    type="range"
                    className="flex-1 accent-slate"
                    min={5}
                    max={100}
                    value={Math.round(boardStrength * 100)}
                    onKeyDown={(e) => e.stopPropagation()}
                    onChange={(e) => usePreferences.setState({ boardStrength: Number(e.target.value) / 100 })}
                  />
                  <span className="w-10 text-right text-faint">{Math.round(boardStrength * 100)} %</span>
                </label>
              )}
            </>
          )}
          <Button onClick={async () => complain(await send({ kind: "shot.set", shot: shot.id, board: "" }))}>
            Take it off
          </Button>
        </>
      )}
    </Section>
  );
}
