import { Square } from "lucide-react";
import { useLayoutEffect } from "react";
import { itemOf, useDocument } from "../store/document";
import { endRecording, useVoice } from "../store/voice";
import { CountIn } from "./count-in";

/** Over the picture while a line is recorded: the count, then the words to be said. */
export function VoiceRecording() {
  const id = useVoice((s) => s.line);
  const count = useVoice((s) => s.count);
  const line = useDocument((s) => itemOf(s.scene, "lines", id ?? ""));
  // Before the words are painted: who sees them can already end it.
  useLayoutEffect(() => {
    if (!id) return;
    const key = (e: KeyboardEvent) => {
      if (e.key !== "Escape" && e.key !== " " && e.key !== "Enter") return;
      e.preventDefault();
      e.stopPropagation();
      endRecording(e.key !== "Escape");
    };
    window.addEventListener("keydown", key, true);
    return () => {
      window.removeEventListener("keydown", key, true);
      // Who leaves the scene lets go of it.
      endRecording(false);
    };
  }, [id]);
  if (!line) return null;
  return (
    <div className="absolute inset-0 z-10" data-testid="voice-recording">
      {count > 0 && <CountIn count={count} />}
      <div className="absolute inset-x-0 bottom-4 flex flex-col items-center gap-2">
        <p
          className={`max-w-[80%] rounded px-3 py-1 text-center text-lg ${count ? "bg-ink/70 text-sheet" : "bg-brick text-sheet"}`}
        >
          {line.text}
        </p>
        <button
          type="button"
          className="flex items-center gap-1.5 rounded bg-sheet px-2 py-1 text-sm text-ink shadow"
          onClick={() => endRecording(true)}
        >
          <Square size={12} /> Stop and keep <kbd className="text-xs text-faint">Space</kbd>
        </button>
      </div>
    </div>
  );
}
