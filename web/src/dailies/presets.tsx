import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../api/client";
import type { Render } from "../api/types";
import { complain, notice } from "../store/view";
import { Button } from "../ui/button";
import { presets } from "./asking";

/** Ways to render kept under names: take one, keep this one, forget one. */
export function Presets({ render, onSet }: { render: Render; onSet: (change: Partial<Render>) => void }) {
  const again = useQueryClient();
  const { data } = useQuery(presets);
  const [name, setName] = useState("");
  const take = (at: number) => {
    const found = data?.[at]?.preset.render;
    if (!found) return;
    const { of, shots, camera, frames, note, ...how } = found as Render;
    onSet(how);
  };
  const refresh = () => again.invalidateQueries({ queryKey: ["presets"] });
  const same = data?.find((one) => one.preset.name === name.trim() && one.id > 0);
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm" role="group" aria-label="Presets">
      <span className="text-faint">Presets</span>
      {data?.map((one, i) => (
        <Button key={one.preset.name} onClick={() => take(i)}>
          {one.preset.name}
        </Button>
      ))}
      <input
        className="field w-36"
        aria-label="Preset name"
        placeholder="Keep this as…"
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && e.preventDefault()}
      />
      <Button
        disabled={!name.trim()}
        onClick={async () => {
          const { problem } = await ask(client.POST("/api/presets", { body: { name: name.trim(), render } }));
          if (!complain(problem)) return;
          notice(`Kept as ${name.trim()}.`, "", false);
          void refresh();
        }}
      >
        Keep
      </Button>
      {same && (
        <Button
          onClick={async () => {
            const path = { params: { path: { preset_id: same.id } } };
            complain((await ask(client.DELETE("/api/presets/{preset_id}", path))).problem);
            void refresh();
          }}
        >
          Forget
        </Button>
      )}
    </div>
  );
}
