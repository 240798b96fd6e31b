import { useQuery, useQueryClient } from "@tanstack/react-query";
import { client } from "../api/client";
import { useDocument } from "../store/document";
import { notice, useView } from "../store/view";
import { Button } from "../ui/button";
import { beginRender, bytes, cancelAll, jobs, MOVIE, room, underWay, workers } from "./asking";
import { Job } from "./job";

/** What is being rendered and what ended lately, with the ways to render more. */
export function JobsPanel() {
  const again = useQueryClient();
  const refresh = () => {
    void again.invalidateQueries({ queryKey: ["takes"] });
    void again.invalidateQueries({ queryKey: ["media"] });
  };
  const { data } = useQuery(jobs);
  const { data: there } = useQuery(workers);
  const shots = useDocument((s) => s.scene?.shots.length ?? 0);
  const id = useDocument((s) => s.id);
  const mine = data?.filter((take) => take.scene === id) ?? [];
  const others = data?.filter((take) => take.scene !== id) ?? [];
  const going = data?.filter(underWay) ?? [];
  const canDraw = there?.some((one) => one.draws) ?? true;
  return (
    <aside aria-label="Dailies" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Dailies</h2>
        <div className="flex flex-wrap gap-1.5">
          <Button
            tone="main"
            disabled={!shots}
            tip="The whole cut as a movie with a slate, drawn as it is now"
            onClick={async () => {
              await beginRender(MOVIE);
              refresh();
            }}
          >
            Render the cut
          </Button>
          <Button
            hint="Shift R"
            tip="Size, quality, shots, what is written on it, presets"
            onClick={() => useView.setState({ asking: { what: "render" } })}
          >
            More…
          </Button>
          <Button
            tip="Play takes and compare two of them"
            onClick={() => useView.setState({ asking: { what: "takes" } })}
          >
            Takes
          </Button>
        </div>
        {!shots && (
          <p className="text-sm text-faint">
            There are no shots in the cut yet. Cut to a camera first, or render one camera by More…
          </p>
        )}
        {there && !canDraw && (
          <p className="rounded-sm bg-brick-wash px-1.5 py-1 text-sm text-brick" role="status">
            {there.length
              ? "No Chromium is installed where pictures are drawn. On Debian: apt install chromium. Or draw a take in this tab."
              : "No worker is there to draw. Start the desk with make demo, or draw a take in this tab."}
          </p>
        )}
        {going.length > 1 && (
          <div className="flex">
            <Button
              onClick={async () => {
                await cancelAll();
                refresh();
              }}
            >
              Cancel all {going.length}
            </Button>
          </div>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto" data-testid="jobs">
        {data?.length === 0 && (
          <p className="p-3 text-sm text-faint">
            No renders yet. Each render of the cut is a take, which can be played and compared with others.
          </p>
        )}
        {mine.map((take) => (
          <Job key={take.id} take={take} canDraw={canDraw} onChange={refresh} />
        ))}
        {others.length > 0 && <h3 className="heading border-b border-line px-3 py-1.5">Other scenes</h3>}
        {others.map((take) => (
          <Job key={take.id} take={take} canDraw={canDraw} onChange={refresh} />
        ))}
      </div>
      <Room onChange={refresh} />
    </aside>
  );
}

/** How much room renders take, and the way to have some back. */
function Room({ onChange }: { onChange: () => void }) {
  const { data } = useQuery(room);
  if (!data) return null;
  return (
    <div className="flex items-center gap-2 border-t border-line px-3 py-1.5 text-xs text-faint">
      <span className="flex-1">
        {bytes(data.pictures)} cached frames, {bytes(data.takes)} in files; {bytes(data.bound)} at most
      </span>
      <Button
        tip="Clear cached frames; takes can still be played, and their files stay"
        disabled={!data.pictures}
        onClick={async () => {
          const { data: now } = await client.POST("/api/media/clear");
          if (now) notice(`${bytes(now.freed ?? 0)} are free again.`, "", false);
          onChange();
        }}
      >
        Clear
      </Button>
    </div>
  );
}
