import { ask } from "../api/client";
import type { Problem } from "../api/types";
import { send } from "../store/sending";
import { complain, notice } from "../store/view";

const KINDS = ["image/png", "image/jpeg", "image/webp"];
const MOST_MB = 64;

/** Put a picture on a shot as its board. */
export async function putBoard(shot: string, file: File | undefined): Promise<void> {
  if (!file) return;
  if (!KINDS.includes(file.type))
    return notice(`${file.name} is not a picture that a shot can show.`, "Give a PNG, a JPEG or a WebP.");
  if (file.size > MOST_MB * 1024 * 1024)
    return notice(`${file.name} is larger than ${MOST_MB} MB.`, "Save it smaller, then drop it again.");
  const sent = fetch("/api/boards", { method: "POST", body: file, headers: { "Content-Type": file.type } });
  const { data, problem } = await ask<{ key: string }>(
    sent.then(async (response) => {
      const said = await response.json();
      return response.ok ? { data: said, response } : { error: said, response };
    }),
  );
  if (!data) return void complain(problem as Problem);
  complain(await send({ kind: "shot.set", shot, board: data.key }));
}

/** What the drop of files on a shot does, for the element of the shot. */
export const takesBoard = (shot: string) => ({
  onDragOver: (e: React.DragEvent) => {
    if (e.dataTransfer.types.includes("Files")) e.preventDefault();
  },
  onDrop: (e: React.DragEvent) => {
    e.preventDefault();
    void putBoard(shot, e.dataTransfer.files[0]);
  },
});
