import type { Command } from "../api/types";
import { useDocument } from "../store/document";
import { chooseLines, useLines } from "../store/lines";
import { useMoment } from "../store/moment";
import { speaksNext } from "../store/samples";
import { send } from "../store/sending";
import { complain, notice, useView } from "../store/view";
import { newId } from "./new-id";

const MOST_MB = 4;

/** Write a line at the playhead, said by who is selected, else by whoever did not speak last. */
export async function writeLine(text: string, at: number | null, figure: string | null): Promise<boolean> {
  const id = newId("line");
  const who = figure ? { figure } : {};
  const when = at === null ? {} : { first: at };
  const kept = complain(await send({ kind: "line.add", id, text, ...who, ...when }));
  if (kept) chooseLines([id]);
  return kept;
}

/** Who would say the next line: the figure that is selected, else as talk goes to and fro. */
export function nextSpeaker(): string | null {
  const { kind, ids } = useView.getState();
  return kind === "figure" && ids.length === 1 ? ids[0] : speaksNext();
}

/** Bring in what was pasted: subtitles, a screenplay, or a line a row. */
export const bringText = async (text: string, form: "any" | "fountain" | "vtt" | "srt" = "any") =>
  complain(
    await send({
      kind: "lines.bring",
      id: newId("lines"),
      form,
      text,
      figure: nextSpeaker(),
      playhead: useMoment.getState().stage,
    }),
  );

/** Bring in a file of dialogue. */
export async function bringFile(file: File | undefined): Promise<void> {
  if (!file) return;
  const form = (["fountain", "vtt", "srt"] as const).find((end) =>
    file.name.toLowerCase().endsWith(`.${end}`),
  );
  if (!form && !/\.(txt|md)$/i.test(file.name))
    return notice(
      `${file.name} is not a screenplay or subtitles.`,
      "Give a .fountain, .vtt, .srt or .txt file.",
    );
  if (file.size > MOST_MB * 1_000_000)
    return notice(`${file.name} is larger than ${MOST_MB} MB.`, "Bring it in in parts.");
  const kept = await bringText(await file.text(), form);
  if (kept) notice(useDocument.getState().said, "", false);
}

/** Put a voice off on the stage as a figure, who says all its lines. */
export const castVoice = async (who: string) =>
  complain(await send({ kind: "voice.cast", id: newId("fig"), who }));

/** What moves the chosen lines, or one that is not among them alone. */
export function movesLines(line: string, by: number): Command {
  const { chosen } = useLines.getState();
  return { kind: "lines.move", ids: chosen.includes(line) ? chosen : [line], by };
}

/** What has a word begin at a frame; the one past the last is the line's end. */
export const holdsWord = (line: string, word: number, frame: number | null): Command => ({
  kind: "line.word",
  line,
  word,
  frame,
});

/** Have listeners react to some lines, or to all. */
export async function react(lines: string[]): Promise<void> {
  if (complain(await send({ kind: "lines.react", lines }))) notice(useDocument.getState().said, "", false);
}

export async function deleteLines(): Promise<void> {
  const { chosen } = useLines.getState();
  if (chosen.length && complain(await send({ kind: "things.delete", ids: chosen }))) chooseLines([]);
}
