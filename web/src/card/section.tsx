import type { ReactNode } from "react";

export function Section({ title, children, side }: { title: string; children: ReactNode; side?: ReactNode }) {
  return (
    <section className="border-b border-line px-3 py-2.5">
      <div className="mb-1.5 flex items-center justify-between">
        <h3 className="heading">{title}</h3>
        {side}
      </div>
      <div className="flex flex-col gap-1.5">{children}</div>
    </section>
  );
}
