import { toggleComposing } from "../store/composing";
import { useDocument } from "../store/document";
import { fitStrip } from "../store/fitted";
import { go, loopRange, playBack, rate, span, step, toggle, useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { lookThrough, notice, setLooks, swapPictures, toggleSide, useView } from "../store/view";
import { copyToPaste, pasteActs } from "../verbs/acts";
import { keepSelected } from "../verbs/bringing";
import { level, meantCamera, newCamera, showCameras } from "../verbs/cameras";
import {
  addShot,
  closeGaps,
  cutHere,
  extendToPlayhead,
  joinShots,
  nextVersion,
  putShot,
  replaceShots,
  splitHere,
} from "../verbs/cutting";
import { dressHere } from "../verbs/dressing";
import { backToFilm } from "../verbs/film";
import { pickFocus, stepLens, toggleCompare } from "../verbs/glass";
import { goCue, goCutPoint, goKey, goShot, loopKeys, nextSpeed, setCue } from "../verbs/navigation";
import { goNote } from "../verbs/notes";
import { savePerch } from "../verbs/perches";
import { duplicateSelected, frameSelected, redo, removeSelected, undo } from "../verbs/things";
import { LOOK_KEYS } from "../viewfinder/guides-panel";
import { JUDGING } from "../viewfinder/judging";
import { MOVES } from "../viewfinder/moves-chosen";
import {
  AFTER,
  fitShots,
  keyCamera,
  letGo,
  loopEnd,
  NEXT,
  NEXT_BOARD,
  nextGhosts,
  openMove,
  operateChosen,
  rename,
  shotOf,
  toNearestJoint,
  trimChosen,
} from "./doing";
import type { Action } from "./keys";
import { goRegion } from "./regions";

const edge = (which: "first" | "last") => go(span(useMoment.getState().clock)[which]);
const prefer = usePreferences.setState;

/** Everything that has a key or a name of its own, in the order in which people are told. */
export const ACTIONS: Action[] = [
  { does: "Play, pause", keys: [" "], shown: "Space", run: toggle },
  { does: "Play backwards", keys: ["Shift+ "], shown: "Shift Space", run: playBack },
  { does: "Previous frame", keys: ["ArrowLeft"], shown: "←", run: () => step(-1) },
  { does: "Next frame", keys: ["ArrowRight"], shown: "→", run: () => step(1) },
  {
    does: "Back one second",
    keys: ["Shift+ArrowLeft"],
    shown: "Shift ←",
    run: () => step(-Math.round(rate())),
  },
  {
    does: "Forward one second",
    keys: ["Shift+ArrowRight"],
    shown: "Shift →",
    run: () => step(Math.round(rate())),
  },
  { does: "To the first frame", keys: ["Home"], run: () => edge("first") },
  { does: "To the last frame", keys: ["End"], run: () => edge("last") },
  { does: "Play at full, half or quarter speed", keys: ["r"], run: nextSpeed },
  { does: "Loop between the two keys about the playhead", keys: ["q"], run: loopKeys },
  {
    does: "To the next key of what is chosen",
    keys: ["Ctrl+ArrowRight", "]"],
    shown: "Ctrl →",
    run: () => goKey(1),
  },
  {
    does: "To the previous key of what is chosen",
    keys: ["Ctrl+ArrowLeft", "["],
    shown: "Ctrl ←",
    run: () => goKey(-1),
  },
  {
    does: "To the next cue",
    keys: ["Ctrl+Shift+ArrowRight", "}"],
    shown: "Ctrl Shift →",
    run: () => goCue(1),
  },
  {
    does: "To the previous cue",
    keys: ["Ctrl+Shift+ArrowLeft", "{"],
    shown: "Ctrl Shift ←",
    run: () => goCue(-1),
  },
  { does: "To the next cut", keys: ["PageDown", "'"], shown: "Page Down", run: () => goCutPoint(1) },
  { does: "To the previous cut", keys: ["PageUp", ";"], shown: "Page Up", run: () => goCutPoint(-1) },
  {
    does: "To the next shot, and loop it",
    keys: ["Shift+PageDown", '"'],
    shown: "Shift Page Down",
    run: () => goShot(1),
  },
  {
    does: "To the previous shot, and loop it",
    keys: ["Shift+PageUp", ":"],
    shown: "Shift Page Up",
    run: () => goShot(-1),
  },
  { does: "Set a cue at the playhead, while it plays too", keys: ["j"], run: () => void setCue() },
  { does: "Loop from this frame", keys: ["Shift+Home"], run: () => loopEnd("first") },
  { does: "Loop to this frame", keys: ["Shift+End"], run: () => loopEnd("last") },
  { does: "Clear the loop range", keys: ["Shift+Escape"], run: () => loopRange(null) },
  { does: "Look through the rover", keys: ["0"], run: () => lookThrough("rover") },
  {
    does: "Watch the cut",
    keys: ["c"],
    run: () => useDocument.getState().scene?.shots.length && lookThrough("cut"),
  },
  { does: "Swap the two pictures", keys: ["v"], run: swapPictures },
  {
    does: "Pictures side by side, or the small one docked",
    keys: ["Shift+v"],
    run: () => prefer((s) => ({ inset: true, beside: !s.beside })),
  },
  { does: "Show or hide the small picture", keys: ["i"], run: () => prefer((s) => ({ inset: !s.inset })) },
  {
    does: "Picture in the whole window",
    keys: ["w"],
    run: () => useView.setState((s) => ({ whole: !s.whole })),
  },
  {
    does: "Hide or show all marks on the picture",
    keys: ["h"],
    run: () => useView.setState((s) => ({ bare: !s.bare })),
  },
  {
    does: "The wall: every camera's picture at once",
    keys: ["Shift+w"],
    run: () => useView.setState((s) => ({ wall: !s.wall, held: [] })),
  },
  { does: "Frame what is selected with the rover", keys: ["f"], run: frameSelected },
  { does: "Make a camera from this view", keys: ["n"], run: () => void newCamera() },
  { does: "Level the camera, or the rover: no tilt, no roll", keys: ["Shift+l"], run: level },
  { does: "Rename what is selected", keys: ["F2"], run: rename },
  { does: "Save this view as a perch", keys: ["Shift+n"], run: () => void savePerch() },
  { does: "Set a key on the camera", keys: ["k"], run: keyCamera },
  { does: "Operate the camera, mover or figure by hand", keys: ["Shift+o"], run: operateChosen },
  { does: "Point at what to focus on", keys: ["g"], run: () => pickFocus("focus") },
  { does: "Point at what to rack to", keys: ["Shift+g"], run: () => pickFocus("rack") },
  { does: "A shorter lens from the same place", keys: ["F3", ","], run: () => void stepLens(-1, "place") },
  { does: "A longer lens from the same place", keys: ["F4", "."], run: () => void stepLens(1, "place") },
  {
    does: "A shorter lens that keeps the figure's size",
    keys: ["Shift+F3", "<"],
    run: () => void stepLens(-1, "size"),
  },
  {
    does: "A longer lens that keeps the figure's size",
    keys: ["Shift+F4", ">"],
    run: () => void stepLens(1, "size"),
  },
  { does: "Compare lenses", keys: ["l"], run: toggleCompare },
  ...LOOK_KEYS.map(([name, key, label]) => ({
    does: `${label}: show or hide`,
    keys: key ? [key.length > 1 ? key : key.toLowerCase()] : undefined,
    run: () => setLooks({ [name]: !useView.getState().looks[name] }),
  })),
  ...JUDGING.map(([name, key, label]) => ({
    does: `Judge the picture: ${label.toLowerCase()}, or as it is`,
    keys: [key],
    run: () => setLooks({ judge: useView.getState().looks.judge === name ? "" : name }),
  })),
  {
    does: "Plan from above, from the front, from the side",
    keys: ["e"],
    run: () => useView.setState((s) => ({ seenFrom: NEXT[s.seenFrom] })),
  },
  {
    does: "Under the stage's ruler: lanes, curves, keys in rows, and round again",
    keys: ["u"],
    run: () => prefer((s) => ({ below: AFTER[s.below] })),
  },
  {
    does: "Ghosts of the chosen camera on the plan: every second, half, quarter of one, or none",
    keys: ["Shift+u"],
    run: () => prefer((s) => ({ ghosts: nextGhosts(s.ghosts) })),
  },
  ...MOVES.map(({ what, says }) => ({ does: `Move the camera: ${says}`, run: () => openMove(what) })),
  {
    does: "Insert the camera at the playhead: the cut moves on",
    keys: ["Alt+i"],
    run: () => void putShot("insert", meantCamera()),
  },
  {
    does: "Overwrite the cut at the playhead with the camera",
    keys: ["Alt+o"],
    run: () => void putShot("overwrite", meantCamera()),
  },
  {
    does: "Have the selected shots show the action from the playhead on, through the camera that is looked through",
    keys: ["Alt+p"],
    run: () => void replaceShots(),
  },
  { does: "Split the shot at the playhead", keys: ["Alt+x"], run: () => void splitHere() },
  { does: "Join the selected shots", keys: ["Alt+j"], run: () => void joinShots() },
  {
    does: "Take the head of the selected shot to the playhead",
    keys: ["Alt+["],
    run: () => void extendToPlayhead("in"),
  },
  {
    does: "Take the tail of the selected shot to the playhead",
    keys: ["Alt+]"],
    run: () => void extendToPlayhead("out"),
  },
  {
    does: "Fit the strip to the selected shots, or to the one at the playhead",
    keys: ["Alt+f"],
    run: fitShots,
  },
  {
    does: "Fit the strip to the whole cut",
    keys: ["Alt+Shift+f"],
    run: () => fitStrip("cut", null),
  },
  { does: "Close the gap before the selected shots", keys: ["Alt+g"], run: () => void closeGaps() },
  { does: "Add a slate: a shot before there is a camera", run: () => void addShot(null) },
  {
    does: "Dress the shot for itself: set, light and who is there; again: the scene",
    keys: ["Shift+s"],
    run: dressHere,
  },
  {
    does: "The shot's board: hidden, beside the picture, over it",
    keys: ["Alt+b"],
    run: () => prefer((s) => ({ boards: NEXT_BOARD[s.boards] })),
  },
  {
    does: "The reference movie: hidden, beside the picture, under it",
    keys: ["Alt+r"],
    run: () =>
      useDocument.getState().scene?.reference
        ? prefer((s) => ({ movie: NEXT_BOARD[s.movie] }))
        : notice("There is no reference movie.", "Bring one in first: drop an MP4 on the desk."),
  },
  { does: "Next version of the shot", keys: ["="], run: () => void nextVersion(1) },
  { does: "The version of the shot before", keys: ["-"], run: () => void nextVersion(-1) },
  { does: "Go to the cut at the playhead, to work on it by keys", keys: ["z"], run: toNearestJoint },
  { does: "Trim the selected shot: its end a frame later", run: () => trimChosen("last", 1) },
  { does: "Trim the selected shot: its end a frame earlier", run: () => trimChosen("last", -1) },
  { does: "Trim the selected shot: its beginning a frame later", run: () => trimChosen("first", 1) },
  { does: "Trim the selected shot: its beginning a frame earlier", run: () => trimChosen("first", -1) },
  {
    does: "Roll the cut at the end of the selected shot a frame later",
    run: () => trimChosen("last", 1, true),
  },
  {
    does: "Roll the cut at the end of the selected shot a frame earlier",
    run: () => trimChosen("last", -1, true),
  },
  { does: "Save this picture as a file", run: () => useView.setState({ asking: { what: "still" } }) },
  {
    does: "Render: the cut, shots or a camera, as a movie or pictures",
    keys: ["Shift+r"],
    run: () => useView.setState({ asking: { what: "render" } }),
  },
  { does: "Renders in progress: show or hide", run: () => toggleSide("jobs") },
  {
    does: "Takes: play and compare them",
    run: () => useView.setState({ asking: { what: "takes" } }),
  },
  {
    does: "Sound: silence it, or let it be heard",
    keys: ["Alt+m"],
    run: () => prefer((s) => ({ sound: !s.sound })),
  },
  {
    does: "Lines, the table of who says what: show or hide",
    keys: ["Shift+t"],
    run: () => toggleSide("lines"),
  },
  {
    does: "Coverage: cameras proposed for a conversation",
    keys: ["Shift+c"],
    run: () => toggleSide("coverage"),
  },
  {
    does: "Compose: put heads at places of the camera's frame",
    keys: ["Alt+c"],
    run: () =>
      useView.getState().through !== "rover" && useView.getState().through !== "cut" && toggleComposing(),
  },
  {
    does: "Bring in files: sets, props, dialogue, sounds",
    keys: ["Alt+Shift+i"],
    run: () => useView.setState({ asking: { what: "bring" } }),
  },
  {
    does: "Hand over: files for the edit, for animation and lighting, for everybody",
    keys: ["Alt+Shift+h"],
    run: () => useView.setState({ asking: { what: "handover" } }),
  },
  {
    does: "Keep what is selected in the library, for any scene",
    keys: ["Alt+Shift+k"],
    run: () => void keepSelected(),
  },
  {
    does: "Library: what was brought in, and where it is used",
    keys: ["Alt+Shift+b"],
    run: () => toggleSide("library"),
  },
  {
    does: "From the edit: compare a cut that came back, and take it over",
    keys: ["Alt+Shift+e"],
    run: () => toggleSide("conform"),
  },
  {
    does: "Lookouts: views that are searched for, with their reasons",
    keys: ["Alt+l"],
    run: () => toggleSide("lookouts"),
  },
  {
    does: "First assembly: the cut proposed from the lines",
    keys: ["Shift+f"],
    run: () => toggleSide("assembly"),
  },
  {
    does: "Notes: what a careful eye says of the cut",
    keys: ["Shift+m"],
    run: () => toggleSide("notes"),
  },
  { does: "To the next note of the cut", keys: ["Alt+n"], run: () => void goNote(1) },
  { does: "To the previous note of the cut", keys: ["Alt+Shift+n"], run: () => void goNote(-1) },
  { does: "Shot list: show or hide", run: () => toggleSide("shots") },
  { does: "Cut here to the selected camera", keys: ["x"], run: () => void cutHere(meantCamera()) },
  { does: "Add a shot of the selected camera", keys: ["Shift+x"], run: shotOf },
  { does: "Hide every camera on the stage", run: () => showCameras(false) },
  { does: "Show every camera on the stage", run: () => showCameras(true) },
  { does: "Delete what is selected", keys: ["Delete", "Backspace"], run: () => void removeSelected() },
  { does: "Delete the shot, leaving a gap", keys: ["Shift+Delete"], run: () => void removeSelected(true) },
  { does: "Copy the selected acts, for any scene", keys: ["Ctrl+c"], run: copyToPaste },
  { does: "Paste acts on the selected figure", keys: ["Ctrl+v"], run: () => void pasteActs() },
  { does: "Duplicate what is selected", keys: ["Ctrl+d"], run: () => void duplicateSelected() },
  { does: "To the next part of the desk", keys: ["F6"], run: () => goRegion(1) },
  {
    does: "To the previous part of the desk",
    keys: ["Shift+F6"],
    run: () => goRegion(-1),
  },
  { does: "Back to the film, at this moment", keys: ["Shift+b"], run: () => void backToFilm() },
  { does: "Undo", keys: ["Ctrl+z"], run: () => void undo() },
  { does: "Redo", keys: ["Ctrl+Shift+z", "Ctrl+y"], run: () => void redo() },
  { does: "Cancel: the tool, an unsaved move, the selection", keys: ["Escape"], shown: "Esc", run: letGo },
  {
    does: "Find an action",
    keys: ["Ctrl+k", "/"],
    run: () => useView.setState({ asking: { what: "find" } }),
  },
  {
    does: "Show all keys",
    keys: ["F1", "?"],
    run: () => useView.setState({ asking: { what: "keys" } }),
  },
];
