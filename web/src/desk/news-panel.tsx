import { useQuery } from "@tanstack/react-query";
import { Radar } from "lucide-react";
import { lazy, Suspense } from "react";
import { news } from "../api/queries";
import type { News } from "../api/types";
import { useDocument } from "../store/document";
import { send } from "../store/sending";
import { complain, lookThrough, scrubStage } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { fetched } from "../ui/fetched";
import { Popped } from "../ui/menu";

const pictures = () => fetched(() => import("../dailies/moved-pictures"));
const MovedPictures = lazy(pictures);
const BeforeAfter = lazy(() => pictures().then((m) => ({ default: m.BeforeAfter })));

type Left = News["left"][number];

/** Which cameras' pictures the last change moved, and which keys it left behind; a press goes to the worst frame. */
export function NewsPanel() {
  const id = useDocument((s) => s.id);
  const revision = useDocument((s) => s.revision);
  const cameras = useDocument((s) => s.scene?.cameras);
  const { data } = useQuery({ ...news(id ?? 0, revision), enabled: id !== null && revision > 0 });
  if (!data || data.revision !== revision || !cameras) return null;
  const moved = cameras.filter((c) => data.moved.some((m) => m.camera === c.id));
  if (moved.length === 0 && data.left.length === 0) return null;
  const bring = async (left: Left) =>
    complain(await send({ kind: "keys.move", keys: left.keys, by: left.by }));
  return (
    <Popped
      label="What the last change moved"
      trigger={
        <Button tip="What the last change moved in cameras' pictures" className="border-ochre!">
          <Radar size={15} /> Moved {moved.map((c) => c.letter).join(" ") || "keys"}
        </Button>
      }
    >
      <div className="max-h-[60vh] w-96 overflow-y-auto p-2" data-testid="news">
        <Suspense>
          <MovedPictures scene={id as number} news={data} />
        </Suspense>
        <p className="mb-2 text-xs text-faint">{data.sentence}</p>
        {data.left.map((left) => (
          <div key={`${left.thing}${left.frame}`} className="mb-2 rounded-[3px] border border-ochre p-2">
            <p className="text-sm">{left.sentence}.</p>
            <div className="mt-1 flex gap-1">
              <Button tone="ochre" onClick={() => bring(left)}>
                Bring along
              </Button>
              <Button tip="Go to where they stand now" onClick={() => scrubStage(left.frame)}>
                {`Go to ${left.frame}`}
              </Button>
            </div>
          </div>
        ))}
        {moved.map((camera) => (
          <div key={camera.id} className="flex gap-2 border-t border-line py-1.5">
            <Letter letter={camera.letter} size={20} />
            <div className="flex min-w-0 flex-1 flex-col items-start">
              {data.moved
                .filter((m) => m.camera === camera.id)
                .map((m) => (
                  <button
                    key={m.subject + m.what}
                    type="button"
                    className="w-full text-left text-sm hover:underline"
                    title={`Look through ${camera.letter} at ${m.frame}`}
                    onClick={() => {
                      lookThrough({ camera: camera.id });
                      scrubStage(m.frame);
                    }}
                  >
                    <b>{WHAT[m.what]}</b> {m.sentence}
                    <Suspense>
                      <BeforeAfter one={m} revision={data.revision} />
                    </Suspense>
                  </button>
                ))}
            </div>
          </div>
        ))}
      </div>
    </Popped>
  );
}

const WHAT: Record<News["moved"][number]["what"], string> = {
  placement: "Place",
  size: "Size",
  focus: "Focus",
  "in the way": "In the way",
};
