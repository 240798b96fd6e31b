import { useDocument } from "../store/document";
import { dropLoose, setKey, useLoose } from "../store/loose";
import { go, here, loopRange, span, step, toggle, useMoment } from "../store/moment";
import { lookThrough, select, setLooks, swapPictures, useView } from "../store/view";
import { useWishes } from "../store/wishes";
import { meantCamera, newCamera } from "../verbs/cameras";
import { cutHere } from "../verbs/cutting";
import { pickFocus, stepLens, toggleCompare } from "../verbs/glass";
import { duplicateSelected, frameSelected, redo, removeSelected, undo } from "../verbs/things";
import { LOOK_KEYS } from "../viewfinder/lines-menu";

export const KEYS: [string, string][] = [
  ["Space", "Play, pause"],
  ["← →", "A frame back, on (Shift: a second)"],
  ["Home, End", "First, last frame"],
  ["[ ]", "Loop from here, loop to here"],
  ["\\", "Clear the loop"],
  ["0", "Rover"],
  ["1 … 9", "Look through a camera"],
  ["C", "Watch the cut"],
  ["F", "Frame what is selected"],
  ["N", "New camera from this view"],
  ["K", "Set a key on the camera"],
  ["G, Shift G", "Point at what to focus on, what to rack to"],
  [", .", "Shorter, longer lens from the same place"],
  ["< >", "Shorter, longer lens keeping the figure's size"],
  ["L", "Compare lenses"],
  ["V", "The two pictures change places (Shift: side by side)"],
  ["I", "Show or put away the small picture"],
  ["W", "The picture in the whole window"],
  ...LOOK_KEYS.map(([, key, label]): [string, string] => [key, label]),
  ["X", "Cut here to the selected camera"],
  ["Delete", "Delete what is selected (Shift: a shot leaves a gap)"],
  ["Ctrl D", "Duplicate"],
  ["Ctrl Z, Ctrl Shift Z", "Undo, redo"],
  ["Esc", "Drop an unkept move, put the tool down, select nothing"],
  ["?", "These keys"],
];

function loopEnd(which: "first" | "last"): void {
  const { clock, loop } = useMoment.getState();
  const whole = span(clock);
  const was = loop?.clock === clock ? loop : whole;
  const range = { first: was.first, last: was.last, [which]: here() };
  if (range.last <= range.first)
    loopRange(which === "first" ? { first: here(), last: whole.last } : { first: whole.first, last: here() });
  else loopRange(range);
}

function letGo(): void {
  const { tool, picking, comparing } = useView.getState();
  if (useView.getState().whole) useView.setState({ whole: false });
  else if (picking) useView.setState({ picking: null });
  else if (comparing) useView.setState({ comparing: null });
  else if (tool !== "select") useView.setState({ tool: "select" });
  else if (useLoose.getState().loose) dropLoose();
  else select(null);
}

/** What each key does; the letters are in `KEYS` for people. */
export function onKey(e: KeyboardEvent): void {
  const target = e.target as HTMLElement;
  // An arrow that moved a slider or a tab has been used.
  if (e.defaultPrevented) return;
  if (target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
  const mod = e.ctrlKey || e.metaKey;
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const [top, bottom] = (useDocument.getState().scene?.rate ?? "24/1").split("/").map(Number);
  const second = Math.round(top / bottom);
  const does: Record<string, () => void> = {
    " ": toggle,
    ArrowLeft: () => step(e.shiftKey ? -second : -1),
    ArrowRight: () => step(e.shiftKey ? second : 1),
    Home: () => go(span(useMoment.getState().clock).first),
    End: () => go(span(useMoment.getState().clock).last),
    "[": () => loopEnd("first"),
    "]": () => loopEnd("last"),
    "\\": () => loopRange(null),
    "0": () => lookThrough("rover"),
    c: () => useDocument.getState().scene?.shots.length && lookThrough("cut"),
    f: frameSelected,
    n: () => void newCamera(),
    k: () => {
      const camera = meantCamera();
      if (camera) void setKey(camera);
    },
    x: () => void cutHere(meantCamera()),
    g: () => pickFocus(e.shiftKey ? "rack" : "focus"),
    ",": () => void stepLens(-1, "place"),
    ".": () => void stepLens(1, "place"),
    "<": () => void stepLens(-1, "size"),
    ">": () => void stepLens(1, "size"),
    l: toggleCompare,
    v: () => (e.shiftKey ? useWishes.setState((s) => ({ inset: true, beside: !s.beside })) : swapPictures()),
    i: () => useWishes.setState((s) => ({ inset: !s.inset })),
    w: () => useView.setState((s) => ({ whole: !s.whole })),
    Delete: () => void removeSelected(e.shiftKey),
    Backspace: () => void removeSelected(e.shiftKey),
    Escape: letGo,
    "?": () => useView.setState({ asking: { what: "keys" } }),
  };
  if (mod && key === "z") does[key] = () => void (e.shiftKey ? redo() : undo());
  else if (mod && key === "y") does[key] = () => void redo();
  else if (mod && key === "d") does[key] = () => void duplicateSelected();
  else if (mod) return;
  else if (/^[1-9]$/.test(key)) {
    const camera = useDocument.getState().scene?.cameras[Number(key) - 1];
    if (camera) does[key] = () => lookThrough({ camera: camera.id });
  }
  const look = LOOK_KEYS.find(([, letter]) => letter.toLowerCase() === key);
  if (look && !mod) does[key] = () => setLooks({ [look[0]]: !useView.getState().looks[look[0]] });
  const act = does[key];
  if (!act) return;
  e.preventDefault();
  // A focused button would take Space as a press as well.
  if (target.closest("button, [role=tab]")) target.blur();
  act();
}
