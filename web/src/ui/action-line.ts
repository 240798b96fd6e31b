import { useQuery } from "@tanstack/react-query";
import { actionLineAt } from "../api/queries";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";

/** Where the line of action lies at this moment, as the core says it; while it plays, where it was. */
export function useActionLine() {
  const id = useDocument((s) => s.id);
  const revision = useDocument((s) => s.revision);
  const stage = useMoment((s) => s.stage);
  const playing = useMoment((s) => s.playing);
  const { data } = useQuery({
    ...actionLineAt(id ?? 0, stage, revision),
    enabled: id !== null && !playing,
    placeholderData: (was) => was,
  });
  return data ?? null;
}
