import { useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { ask, client } from "../../api/client";
import type { Remark, Take } from "../../api/types";
import { complain } from "../../store/view";
import { Button } from "../../ui/button";

interface Props {
  take: Take;
  remarks: Remark[];
  frame: number;
  timecodes: string[];
  onGo: (frame: number) => void;
}

/** What was said of frames of a take: pinned, listed, ticked off. */
export function Remarks({ take, remarks, frame, timecodes, onGo }: Props) {
  const [text, setText] = useState("");
  const again = useQueryClient();
  const refresh = () => {
    void again.invalidateQueries({ queryKey: ["take", take.id] });
    void again.invalidateQueries({ queryKey: ["takes"] });
  };
  const path = (id: number) => ({ params: { path: { remark_id: id } } });
  const pin = async () => {
    if (!text.trim()) return;
    const { problem } = await ask(
      client.POST("/api/takes/{take_id}/remarks", {
        params: { path: { take_id: take.id } },
        body: { frame, text },
      }),
    );
    if (!complain(problem)) return;
    setText("");
    refresh();
  };
  return (
    <section className="border-t border-line px-3 py-2 text-sm" data-testid="remarks">
      <h3 className="heading mb-1">Remarks</h3>
      <form
        className="mb-2 flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          void pin();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Remark on this frame"
          placeholder={`On ${timecodes[frame] ?? "this frame"}…`}
          maxLength={500}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <Button type="submit" disabled={!text.trim()}>
          Pin
        </Button>
      </form>
      <ul>
        {remarks.map((one) => (
          <li key={one.id} className="flex items-start gap-1.5 border-b border-line/60 py-1">
            <Tick remark={one} onSet={refresh} />
            <button type="button" className="min-w-0 flex-1 text-left" onClick={() => onGo(one.frame)}>
              <span className={one.ticked ? "text-faint line-through" : ""}>{one.text}</span>
              <span className="block text-xs text-faint tabular-nums">
                {timecodes[one.frame]} · {one.author}
              </span>
            </button>
            <button
              type="button"
              aria-label={`Take away: ${one.text}`}
              className="text-faint hover:text-brick"
              onClick={async () => {
                await ask(client.DELETE("/api/remarks/{remark_id}", path(one.id)));
                refresh();
              }}
            >
              <X size={13} />
            </button>
          </li>
        ))}
      </ul>
      {remarks.length === 0 && (
        <p className="text-xs text-faint">None yet. One is pinned to the frame you see.</p>
      )}
    </section>
  );
}

/** Ticked at once; the server is told meanwhile. */
function Tick({ remark, onSet }: { remark: Remark; onSet: () => void }) {
  const [ticked, setTicked] = useState(remark.ticked);
  return (
    <input
      type="checkbox"
      className="mt-1 accent-slate"
      aria-label={`Seen to: ${remark.text}`}
      checked={ticked}
      onChange={async () => {
        setTicked(!ticked);
        const path = { params: { path: { remark_id: remark.id } } };
        const { problem } = await ask(
          client.POST("/api/remarks/{remark_id}", { ...path, body: { ticked: !ticked } }),
        );
        if (!complain(problem)) setTicked(ticked);
        onSet();
      }}
    />
  );
}
