import type { Problem } from "../api/types";

/** Why nothing was found, and what can be done about it. */
export function Refusal({ problem }: { problem: Pick<Problem, "title" | "remedy"> | null }) {
  if (!problem) return null;
  return (
    <p className="p-3 text-sm" role="alert">
      <b>{problem.title}</b> {problem.remedy}
    </p>
  );
}
