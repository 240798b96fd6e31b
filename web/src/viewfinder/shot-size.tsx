import { useQuery } from "@tanstack/react-query";
import { ChevronDown } from "lucide-react";
import { useState } from "react";
import { catalogue } from "../api/catalogue";
import { glassAt } from "../api/queries";
import type { Camera } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Choice } from "../ui/choice";
import { Popped } from "../ui/menu";

/** How large the shot is and of whom, as the trade says it; pressed, another size is chosen. */
export function ShotSize({ camera }: { camera: Camera }) {
  const id = useDocument((s) => s.id) ?? 0;
  const revision = useDocument((s) => s.revision);
  const figures = useDocument((s) => s.scene?.figures);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  const [whom, setWhom] = useState("");
  const [by, setBy] = useState<"distance" | "lens">("distance");
  const { data } = useQuery({
    ...glassAt(id, camera.id, stage, revision),
    enabled: !playing,
    placeholderData: (was) => was,
  });
  const sizes = catalogue.shot_sizes;
  if (!data || !figures?.length) return null;
  const single = figures.find((f) => f.id === whom)?.id ?? (data.size_of || figures[0].id);
  // Two people are one choice, by both ids.
  const pairs = figures.flatMap((a, i) =>
    figures.slice(i + 1).map((b) => ({ value: `${a.id} ${b.id}`, label: `${a.name} and ${b.name}` })),
  );
  const of = pairs.find((pair) => pair.value === whom)?.value ?? single;
  const [figure, also] = of.split(" ");
  const now = data.size_of === of ? data.size.split(", ").pop() : "";
  return (
    <Popped
      label="Size of the shot"
      trigger={
        <button
          type="button"
          className="flex min-w-0 items-center gap-0.5 text-sm hover:underline disabled:no-underline"
          title="Choose another size of the shot"
          disabled={camera.locked}
          data-testid="shot-size"
        >
          <span className="truncate">{data.size || "No face in frame"}</span>
          <ChevronDown size={13} className="shrink-0 text-faint" />
        </button>
      }
    >
      <div className="flex w-64 flex-col gap-1.5 p-1.5" data-testid="sizes">
        <Choice
          label="Of"
          value={of}
          options={[...figures.map((f) => ({ value: f.id, label: f.name })), ...pairs]}
          onSet={setWhom}
        />
        <Choice
          label="What answers"
          value={by}
          options={[
            { value: "distance", label: "the distance" },
            { value: "lens", label: "the lens" },
          ]}
          onSet={setBy}
        />
        <div className="grid grid-cols-2 gap-1">
          {sizes.map((size) => (
            <button
              key={size}
              type="button"
              aria-pressed={size === now}
              className={`h-7 rounded-[3px] border px-1 text-sm ${size === now ? "border-slate bg-slate-wash" : "border-line bg-sheet hover:bg-well"}`}
              onClick={async () =>
                complain(
                  await send({
                    kind: "camera.shot_size",
                    camera: camera.id,
                    figure,
                    ...(also && { also }),
                    size,
                    by,
                    frame: stage,
                  }),
                )
              }
            >
              {size}
            </button>
          ))}
        </div>
      </div>
    </Popped>
  );
}
