import { ask } from "../api/client";
import type { Problem, Sound } from "../api/types";
import { useDocument } from "../store/document";
import { useLines } from "../store/lines";
import { useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain, notice } from "../store/view";
import { newId } from "./new-id";

export const SOUND_FILES = ".wav,.flac,.ogg,.mp3,audio/*";
const MOST_MB = 60;

/** What a lane of sounds is called. */
export const SOUND_LANES: Record<Sound["lane"], string> = {
  lines: "Voices",
  effects: "Effects",
  bed: "Bed",
  music: "Music",
};

export const isSound = (file: File): boolean =>
  file.type.startsWith("audio/") || /\.(wav|flac|ogg|mp3)$/i.test(file.name);

/** A sound as the server keeps it. */
interface KeptSound {
  key: string;
  samples: number;
  until: number;
  level: string;
  said: string[];
}

/** Have the server keep a sound; nothing where it is refused, which is said. */
export async function keepSound(content: Blob, name: string): Promise<KeptSound | null> {
  const sent = fetch(`/api/sounds?name=${encodeURIComponent(name)}`, {
    method: "POST",
    body: content,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const { data, problem } = await ask<KeptSound>(
    sent.then(async (response) => {
      const said = await response.json();
      return response.ok ? { data: said, response } : { error: said, response };
    }),
  );
  if (!data) complain(problem as Problem);
  return data ?? null;
}

/** Bring in a sound: on a line, else at the playhead. */
export async function bringSound(
  file: File | undefined,
  lane: Sound["lane"],
  line: string | null = onlyLine(),
): Promise<void> {
  if (!file) return;
  if (file.size > MOST_MB * 1024 * 1024)
    return notice(
      `${file.name} is larger than ${MOST_MB} MB.`,
      "Save it as FLAC or MP3, or bring in the part you need.",
    );
  const data = await keepSound(file, file.name);
  if (!data) return;
  const { stage, cut } = useMoment.getState();
  const name = file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "Sound";
  const base = {
    kind: "sound.add" as const,
    id: newId("snd"),
    name,
    file: data.key,
    samples: data.samples,
    level: data.level,
  };
  const where = line ? { line } : { lane, playhead: [stage, cut] as [number, number] };
  if (complain(await send({ ...base, ...where })) && data.said.length)
    notice(`${data.said.join("; ")}.`, "", false);
}

/** The line that is chosen, where it is one alone. */
function onlyLine(): string | null {
  const { chosen } = useLines.getState();
  const there = useDocument.getState().scene?.lines.some((line) => line.id === chosen[0]);
  return chosen.length === 1 && there ? chosen[0] : null;
}
