import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import type { ListProps } from "./long-list";

/** Rows that may be thousands: only those in sight, and a few beyond, are laid out. */
export default function VirtualList<T>({
  items,
  keyOf,
  height,
  children,
  className = "",
  label,
  shown = -1,
}: ListProps<T>) {
  const room = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => room.current,
    estimateSize: () => height,
    getItemKey: (i) => keyOf(items[i], i),
    overscan: 6,
    // Before it is laid out, as where nothing is laid out at all.
    initialRect: { width: 300, height: 600 },
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: another row, or other heights, are the reason to run
  useEffect(() => {
    if (shown >= 0) rows.scrollToIndex(shown);
  }, [shown, height]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows of another height are measured again
  useEffect(() => rows.measure(), [height]);
  return (
    <div
      ref={room}
      className={`overflow-x-hidden overflow-y-auto ${className}`}
      role="list"
      aria-label={label}
    >
      <div className="relative w-full" style={{ height: rows.getTotalSize() }} role="presentation">
        {rows.getVirtualItems().map((row) => (
          <div
            key={row.key}
            ref={rows.measureElement}
            data-index={row.index}
            role="listitem"
            aria-setsize={items.length}
            aria-posinset={row.index + 1}
            className="absolute inset-x-0 top-0"
            style={{ transform: `translateY(${row.start}px)` }}
          >
            {children(items[row.index], row.index)}
          </div>
        ))}
      </div>
    </div>
  );
}
