import { type ReactNode, useEffect, useState, useSyncExternalStore } from "react";
import { afterFirstPicture } from "../store/first";
import { fetched } from "./fetched";

type Parts = typeof import("./menu-parts");

let parts: Parts | null = null;
let asked = false;
const waiting = new Set<() => void>();

/** What menus are made of comes after the first picture; until then there are only the buttons that open them. */
function useParts(): Parts | null {
  useEffect(() => {
    if (asked) return;
    asked = true;
    void afterFirstPicture()
      .then(() => fetched(() => import("./menu-parts")))
      .then((found) => {
        parts = found;
        for (const tell of waiting) tell();
      });
  }, []);
  return useSyncExternalStore(
    (tell) => {
      waiting.add(tell);
      return () => waiting.delete(tell);
    },
    () => parts,
  );
}

/** The button alone; pressed too early, it opens as soon as it can. */
function Early({ trigger, onPress }: { trigger: ReactNode; onPress: () => void }) {
  return (
    <span role="presentation" className="contents" onClickCapture={onPress}>
      {trigger}
    </span>
  );
}

/** What opens under a button. */
export function Menu(props: { trigger: ReactNode; children: ReactNode; onClose?: () => void }) {
  const found = useParts();
  const [pressed, setPressed] = useState(false);
  if (!found) return <Early trigger={props.trigger} onPress={() => setPressed(true)} />;
  return <found.Menu {...props} opened={pressed} />;
}

/** Settings that stay open under a button. */
export function Popped(props: { trigger: ReactNode; label: string; children: ReactNode }) {
  const found = useParts();
  const [pressed, setPressed] = useState(false);
  if (!found) return <Early trigger={props.trigger} onPress={() => setPressed(true)} />;
  return <found.Popped {...props} opened={pressed} />;
}

export function MenuItem(props: {
  onSelect: () => void;
  children: ReactNode;
  note?: string;
  /** It is pointed at, by mouse or by keyboard. */
  onPoint?: () => void;
}) {
  const found = useParts();
  return found && <found.MenuItem {...props} />;
}
