import { useDocument } from "../store/document";
import { lookThrough, useView } from "../store/view";
import { buttonAt, keyboardIsOn } from "../ui/left-behind";
import { leavesFields } from "../ui/own-keys";
import { pressLetter } from "../verbs/letters";
import { ACTIONS } from "./actions";
import { keyOf } from "./keys";

const BY_KEY = new Map(ACTIONS.flatMap((action) => (action.keys ?? []).map((key) => [key, action] as const)));

/** The keys of the whole desk; a field, a dialog or the panel that has the keyboard comes first. */
export function onKey(e: KeyboardEvent): void {
  const target = e.target as HTMLElement;
  // What a slider, a tab or a panel did has been done.
  if (e.defaultPrevented) return;
  // A dialog that is on its way has the keyboard already: what is typed for it is not lost.
  const { asking } = useView.getState();
  if (asking) {
    const waits = asking.what === "find" && e.key.length === 1 && !e.ctrlKey && !e.metaKey;
    if (waits && !target.closest("input")) {
      e.preventDefault();
      useView.setState({ asking: { ...asking, typed: (asking.typed ?? "") + e.key } });
    }
    return;
  }
  const key = keyOf(e);
  if (target.closest("[role=dialog], [role=menu]")) return;
  if (target.closest("input, textarea, select") && !leavesFields(e)) return;
  // While the cut plays, letters cut.
  if (pressLetter(e)) {
    e.preventDefault();
    return;
  }
  // Space presses a button that the keyboard is on.
  const button = buttonAt(target);
  if ((key === " " || key === "Enter") && keyboardIsOn(button)) return;
  const camera = /^[1-9]$/.test(key) && useDocument.getState().scene?.cameras[Number(key) - 1];
  const act = camera ? () => lookThrough({ camera: camera.id }) : BY_KEY.get(key)?.run;
  if (!act) return;
  e.preventDefault();
  // What goes from part to part goes on from here.
  if (button && !leavesFields(e)) target.blur();
  act();
}
