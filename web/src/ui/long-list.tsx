import { Fragment, lazy, type ReactNode, Suspense, useEffect, useRef } from "react";
import { fetched } from "./fetched";

export interface ListProps<T> {
  items: readonly T[];
  keyOf: (item: T, index: number) => string | number;
  /** A row's usual height, pixels; taller ones are measured. */
  height: number;
  children: (item: T, index: number) => ReactNode;
  className?: string;
  label?: string;
  /** A row that must be in sight. */
  shown?: number;
}

/** As many rows are simply laid out; of more, only those in sight. */
const FEW = 60;

const VirtualList = lazy(() => fetched(() => import("./virtual-list"))) as <T>(
  props: ListProps<T>,
) => ReactNode;

/** Rows that may be thousands. */
export function LongList<T>(props: ListProps<T>) {
  if (props.items.length <= FEW) return <ShortList {...props} />;
  return (
    <Suspense>
      <VirtualList {...props} />
    </Suspense>
  );
}

function ShortList<T>({ items, keyOf, height, children, className = "", label, shown = -1 }: ListProps<T>) {
  const room = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another row, or other heights, are the reason to run
  useEffect(() => {
    room.current?.children[shown]?.scrollIntoView({ block: "nearest" });
  }, [shown, height]);
  return (
    <div
      ref={room}
      className={`overflow-x-hidden overflow-y-auto ${className}`}
      role="list"
      aria-label={label}
    >
      {items.map((item, i) => (
        <div key={keyOf(item, i)} role="listitem" data-index={i}>
          {children(item, i)}
        </div>
      ))}
    </div>
  );
}

/** The same rows in the page itself while they are few, in a list of their own once they are many. */
export function Rows<T>(props: ListProps<T>) {
  if (props.items.length <= 30)
    return props.items.map((item, i) => (
      <Fragment key={props.keyOf(item, i)}>{props.children(item, i)}</Fragment>
    ));
  return <LongList {...props} className={`max-h-80 ${props.className ?? ""}`} />;
}
