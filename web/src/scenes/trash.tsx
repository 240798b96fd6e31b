import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../api/client";
import { trashed } from "../api/queries";
import type { Problem } from "../api/types";
import { Button } from "../ui/button";
import { when } from "../ui/when";

/** Scenes that were put away: each comes back for 30 days, or goes for good once that was said twice. */
export function Trash({ done }: { done: (answer: Promise<{ problem: Problem | null }>) => void }) {
  const { data } = useQuery(trashed);
  const [sure, setSure] = useState<number | null>(null);
  if (!data?.length) return null;
  return (
    <details className="mt-6">
      <summary className="heading cursor-pointer">Trash ({data.length})</summary>
      <ul className="divide-y divide-line">
        {data.map((scene) => (
          <li key={scene.id} className="flex items-center gap-2 py-1.5 text-sm">
            <span className="min-w-0 flex-1 truncate">
              {scene.name} <span className="text-faint">changed {when(scene.changed)}</span>
            </span>
            <Button
              onClick={() =>
                done(
                  ask(
                    client.POST("/api/scenes/{scene_id}/bring-back", {
                      params: { path: { scene_id: scene.id } },
                    }),
                  ),
                )
              }
            >
              Bring back
            </Button>
            {sure === scene.id ? (
              <>
                <Button
                  tone="wrong"
                  onClick={() => {
                    setSure(null);
                    done(
                      ask(
                        client.DELETE("/api/scenes/{scene_id}", {
                          params: { path: { scene_id: scene.id }, query: { for_good: true } },
                        }),
                      ),
                    );
                  }}
                >
                  Delete permanently
                </Button>
                <Button onClick={() => setSure(null)}>Keep</Button>
              </>
            ) : (
              <Button onClick={() => setSure(scene.id)}>Delete…</Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
