/** The revision at which this page shows its scene; none, as it is now. Stated in the address of pages that draw. */
export const PAST: number | null = ((at) => (at === null ? null : Number(at)))(
  typeof location === "undefined" ? null : new URLSearchParams(location.search).get("at"),
);

/** The address of something of a scene's content under its key, as this page shows it. */
export const contentUrl = (scene: number, path: string, key: string): string =>
  `/api/scenes/${scene}/${path}?key=${key}${PAST === null ? "" : `&at=${PAST}`}`;
