import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog as Radix } from "radix-ui";
import { useEffect, useState } from "react";
import type { Take } from "../../api/types";
import { useDocument } from "../../store/document";
import { Button } from "../../ui/button";
import { beginRender, MOVIE, takesOf } from "../asking";
import { forgetPictures } from "./pictures";
import { TakeList } from "./take-list";
import { Theatre } from "./theatre";

/** Takes of the scene: played frame by frame, and two of them held against each other. */
export function TakesWindow({
  take,
  scene,
  onClose,
}: {
  take?: number;
  /** Whose takes: another scene's where a take of it was opened, else this one's. */
  scene?: number;
  onClose: () => void;
}) {
  const own = useDocument((s) => s.id) ?? 0;
  const id = scene ?? own;
  const shots = useDocument((s) => s.scene?.shots.length ?? 0);
  const { data } = useQuery(takesOf(id));
  const again = useQueryClient();
  const [chosen, setChosen] = useState<number | null>(take ?? null);
  const [against, setAgainst] = useState<number | null>(null);
  useEffect(() => forgetPictures, []);
  useEffect(() => {
    // The desk lies wholly under this: without a graphics card, painting it too would halve the rate of what plays.
    const desk = document.getElementById("root");
    if (desk) desk.style.visibility = "hidden";
    return () => {
      if (desk) desk.style.visibility = "";
    };
  }, []);
  const found = (wanted: number | null): Take | undefined => data?.find((one) => one.id === wanted);
  const one = found(chosen) ?? data?.[0];
  const other = found(against);
  return (
    <Radix.Root open onOpenChange={(open) => !open && onClose()}>
      <Radix.Portal>
        <Radix.Content
          aria-describedby={undefined}
          tabIndex={0}
          // Keys are the player's at once, and no button's words lie over what is read first.
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            (e.currentTarget as HTMLElement).focus();
          }}
          data-testid="takes"
          className="fixed inset-0 z-50 flex flex-col bg-paper outline-none"
        >
          <div className="flex items-center gap-3 border-b border-line px-4 py-2">
            <Radix.Title className="text-lg font-semibold">Takes</Radix.Title>
            <span className="text-sm text-faint">
              {one && (other ? `Take ${one.number} against take ${other.number}` : `Take ${one.number}`)}
            </span>
            {id !== own && one && <span className="text-sm">of {one.scene_name}</span>}
            <span className="flex-1" />
            <Button hint="Esc" tip="Back to the desk" onClick={onClose}>
              Close
            </Button>
          </div>
          {data?.length === 0 ? (
            <div className="flex flex-1 flex-col items-center justify-center gap-3 text-sm">
              <p>No takes of this scene yet. A take is one render of the cut.</p>
              <Button
                tone="main"
                disabled={!shots}
                onClick={async () => {
                  await beginRender(MOVIE);
                  void again.invalidateQueries({ queryKey: ["takes"] });
                }}
              >
                Render the cut
              </Button>
              {!shots && (
                <p className="text-faint">There are no shots in the cut yet. Cut to a camera first.</p>
              )}
            </div>
          ) : (
            <div className="flex min-h-0 flex-1">
              <TakeList
                takes={data ?? []}
                chosen={one?.id ?? null}
                against={other?.id ?? null}
                onChoose={setChosen}
                onAgainst={setAgainst}
              />
              {one && <Theatre key={one.id} take={one} other={other ?? null} />}
            </div>
          )}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
