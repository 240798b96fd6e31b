/** Pictures of takes as they are shown, unpacked ahead of the moment they are wanted at. */
const kept = new Map<string, ImageBitmap>();
/** Those that the server no longer has. */
const lost = new Set<string>();
const coming = new Map<string, Promise<void>>();
/** More would fill a machine: each is as large as it is shown. */
const MOST = 160;

/** The picture of a proof, if it is here. */
export function pictureOf(key: string): ImageBitmap | null {
  const found = kept.get(key);
  if (!found) return null;
  kept.delete(key);
  kept.set(key, found);
  return found;
}

/** Whether the server no longer has it. */
export const isLost = (key: string): boolean => lost.has(key);

/** Fetch and unpack one; it resolves when it is here, or cannot be had. */
export function fetchPicture(key: string): Promise<void> {
  if (kept.has(key) || lost.has(key)) return Promise.resolve();
  const under = coming.get(key);
  if (under) return under;
  const made = fetch(`/api/pictures/${key}.jpg`)
    .then(async (answer) => {
      if (answer.status === 404) lost.add(key);
      if (!answer.ok) return;
      kept.set(key, await createImageBitmap(await answer.blob()));
      for (const [old, picture] of kept) {
        if (kept.size <= MOST) break;
        kept.delete(old);
        picture.close();
      }
    })
    .catch(() => undefined)
    .finally(() => coming.delete(key));
  coming.set(key, made);
  return made;
}

export function forgetPictures(): void {
  for (const picture of kept.values()) picture.close();
  kept.clear();
  lost.clear();
}
