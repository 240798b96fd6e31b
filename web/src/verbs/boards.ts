import { ask } from "../api/client";
import type { Problem } from "../api/types";
import { send } from "../store/sending";
import { complain, notice } from "../store/view";
import { newId } from "./new-id";

const KINDS = ["image/png", "image/jpeg", "image/webp"];
const MOST_MB = 64;
const MOST_LIST = 4_000_000;

/** Keep a picture, so that shots can show it: its key, or null once it was said why not. */
async function keepPicture(file: File): Promise<string | null> {
  if (!KINDS.includes(file.type)) {
    notice(`${file.name} is not a picture that a shot can show.`, "Give a PNG, a JPEG or a WebP.");
    return null;
  }
  if (file.size > MOST_MB * 1024 * 1024) {
    notice(`${file.name} is larger than ${MOST_MB} MB.`, "Save it smaller, then give it again.");
    return null;
  }
  const sent = fetch("/api/boards", { method: "POST", body: file, headers: { "Content-Type": file.type } });
  const { data, problem } = await ask<{ key: string }>(
    sent.then(async (response) => {
      const said = await response.json();
      return response.ok ? { data: said, response } : { error: said, response };
    }),
  );
  if (!data) complain(problem as Problem);
  return data?.key ?? null;
}

/** Put a picture on a shot as its board. */
export async function putBoard(shot: string, file: File | undefined): Promise<void> {
  const board = file && (await keepPicture(file));
  if (board) complain(await send({ kind: "shot.set", shot, board }));
}

/** Bring in a list of shots, with the pictures it names, if any were given with it: all of it or nothing. */
export async function bringList(files: File[]): Promise<void> {
  const list = files.find((file) => file.name.toLowerCase().endsWith(".csv"));
  if (!list) return notice("There is no list among these files.", "Give a .csv, and the pictures it names.");
  if (list.size > MOST_LIST)
    return notice("The list is larger than 4 MB.", "Save it as CSV with its text alone.");
  const boards: Record<string, string> = {};
  for (const file of files) {
    if (file === list) continue;
    const key = await keepPicture(file);
    if (!key) return;
    boards[file.name] = key;
  }
  complain(await send({ kind: "shots.list", id: newId("list"), csv: await list.text(), boards }));
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
