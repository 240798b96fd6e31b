import { useEffect, useState } from "react";

const RESTS_MS = 200;

/** A value once it has stopped changing: for what is worth asking the server about only then. */
export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), RESTS_MS);
    return () => window.clearTimeout(timer);
  }, [value]);
  return settled;
}
