import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { ask, client } from "../../api/client";
import type { Render } from "../../api/types";
import { complain, notice } from "../../store/view";
import { Button } from "../../ui/button";
import { presets } from "../asking";
import type { Part } from "./part";

/** How of a render: all but what of the scene it shows. */
const howOf = ({ of, shots, camera, frames, note, ...how }: Render) => how;

/** Ways to render kept under names: take one, keep this one, forget one. */
export function Presets({ render, onSet }: Part) {
  const again = useQueryClient();
  const { data } = useQuery(presets);
  const [name, setName] = useState("");
  const refresh = () => again.invalidateQueries({ queryKey: ["presets"] });
  const same = (how: object) =>
    Object.entries(how).every(([k, v]) => JSON.stringify(v) === JSON.stringify(render[k as keyof Render]));
  const keep = async () => {
    const called = name.trim();
    if (!called) return;
    const { problem } = await ask(client.POST("/api/presets", { body: { name: called, render } }));
    if (!complain(problem)) return;
    notice(`Kept as ${called}.`, "", false);
    setName("");
    void refresh();
  };
  const forget = async (preset_id: number) => {
    complain(
      (await ask(client.DELETE("/api/presets/{preset_id}", { params: { path: { preset_id } } }))).problem,
    );
    void refresh();
  };
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm" role="group" aria-label="Presets">
      <span className="text-faint">Presets</span>
      {data?.map(({ id, preset }) => {
        const how = howOf(preset.render as Render);
        return (
          <span key={preset.name} className="flex">
            <Button on={same(how)} className={id > 0 ? "rounded-r-none" : ""} onClick={() => onSet(how)}>
              {preset.name}
            </Button>
            {id > 0 && (
              <Button
                tip={`Forget ${preset.name}`}
                className="rounded-l-none border-l-0 px-1"
                onClick={() => forget(id)}
              >
                <X size={13} aria-hidden />
              </Button>
            )}
          </span>
        );
      })}
      <input
        className="field w-36"
        aria-label="Preset name"
        placeholder="Keep this as…"
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          void keep();
        }}
      />
      <Button disabled={!name.trim()} onClick={keep}>
        Keep
      </Button>
    </div>
  );
}
