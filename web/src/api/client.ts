import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type { Problem } from "./types";

export const client = createClient<paths>({ baseUrl: "" });

const UNREACHED: Problem = {
  title: "Not saved: the server doesn't answer.",
  remedy: "Start it again with make demo; your last change is still here.",
  detail:
    "Not saved: the server doesn't answer. Start it again with make demo; your last change is still here.",
  status: 0,
  not_kept: true,
};

/** The data of an answer, or the problem that came instead of it. */
export async function ask<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<{ data: T; problem: null } | { data: null; problem: Problem }> {
  try {
    const { data, error, response } = await call;
    if (data !== undefined && response.ok) return { data, problem: null };
    if (error && typeof error === "object" && "detail" in error)
      return { data: null, problem: error as Problem };
    return {
      data: null,
      problem: { ...UNREACHED, title: `The server answered ${response.status}.`, status: response.status },
    };
  } catch {
    return { data: null, problem: UNREACHED };
  }
}

/** Send a file as it is to an address that takes it by its name. */
export function sendFile<T>(address: string, file: File) {
  const sent = fetch(`${address}?name=${encodeURIComponent(file.name)}`, {
    method: "POST",
    body: file,
    headers: { "Content-Type": "application/octet-stream" },
  });
  return ask<T>(
    sent.then(async (response) => {
      const said = await response.json();
      return response.ok ? { data: said, response } : { error: said, response };
    }),
  );
}

/** Where a board is to be had, by its key. */
export const boardUrl = (key: string): string => `/api/boards/${key}.jpg`;
