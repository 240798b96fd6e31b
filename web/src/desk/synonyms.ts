/**
 * What else people call things: words of the trade, each with words that an action says of itself. What is typed into
 * Find is looked for as it is, and as what it stands for here.
 */
export const GROUPS: [means: string, words: string][] = [
  [
    "trim",
    "ripple, shorten, lengthen, top, tail, extend, tighten, adjust edit, in point, out point, head, end of the shot",
  ],
  ["roll the cut", "rolling edit, rolling trim, move the edit point, double roll"],
  ["cut here", "split, blade, razor, splice, slice, chop, divide, switch angle, change camera"],
  ["add a shot", "append, insert shot, put in the cut, new shot, edit in"],
  ["delete", "remove, erase, bin, trash, kill, lift, clear selection"],
  ["duplicate", "copy, clone"],
  ["undo", "take back, revert, step back in history"],
  ["redo", "again, repeat the last undone"],
  ["play", "run, start, preview, playback"],
  ["next frame", "step, frame forward, forward, advance"],
  ["previous frame", "frame back, backward, reverse step"],
  ["first frame", "start, beginning, head of the scene, rewind, go to in"],
  ["last frame", "end, go to out"],
  ["loop", "cycle, repeat, round and round, in and out, range, mark in, mark out"],
  ["half or quarter speed", "slow motion, slow down, speed"],
  ["next key", "keyframe, next keyframe"],
  ["previous key", "previous keyframe, last key"],
  ["set a key", "keyframe, record pose, add key, animate, hold pose"],
  ["cue", "marker, flag, beat, event"],
  ["next cut", "edit point, joint, next edit, transition"],
  ["previous cut", "previous edit, last cut"],
  ["look through the rover", "free camera, perspective view, fly around, orbit view, free view, viewport"],
  ["watch the cut", "program, sequence, film, edit, timeline"],
  ["small picture", "picture in picture, inset, second view"],
  ["whole window", "full screen, maximise, maximize, fullscreen"],
  ["marks on the picture", "clean view, hide overlays, hide guides, clean feed"],
  ["frame what is selected", "focus view, zoom to selection, find in view, centre on"],
  ["make a camera", "new camera, create camera, add camera, snapshot view"],
  ["level the camera", "straighten, horizon, dutch, canted, remove roll, remove tilt, upright"],
  ["rename", "name, label, title"],
  ["perch", "bookmark, saved view, favourite view, store view, view preset"],
  ["operate", "hand held, handheld, perform, record camera, mocap camera, gamepad, live"],
  ["focus on", "pull focus, focus puller, sharp, set focus, depth of field"],
  ["rack", "pull focus, rack focus, shift focus, follow focus"],
  ["shorter lens", "wider, wide angle, zoom out, short lens, widen"],
  ["longer lens", "tele, telephoto, tighter, zoom in, long lens, tighten"],
  ["compare lenses", "lens test, focal length comparison, lens kit"],
  ["safe areas", "title safe, action safe, broadcast safe"],
  ["thirds", "rule of thirds, grid, composition"],
  ["middle of the frame", "centre cross, crosshair, center"],
  ["diagonals", "composition lines"],
  ["protected aspect", "crop, vertical, portrait safe, letterbox, matte"],
  ["outside the frame", "overscan, surround, beyond the frame"],
  ["blur of the lens", "depth of field, dof, bokeh, defocus"],
  ["motion over the open shutter", "motion blur, shutter"],
  ["hatch what is sharp", "focus peaking, depth of field, in focus, focus check"],
  ["plan from the front", "elevation, side view, front view, top view, orthographic"],
  ["lanes, curves", "graph, curve editor, dope, timeline, f-curves, key rows"],
  ["ghosts", "onion skin, trail of the camera, motion trail"],
  ["reference movie", "video, animatic, story reel, previz, reference video, overlay, mp4, trace over"],
  ["save this picture", "still, screenshot, frame grab, export image, snapshot, photo"],
  ["render", "export, movie, output, video, mp4, preview movie, image sequence"],
  ["renders in progress", "jobs, queue, progress, render queue"],
  ["takes", "versions of the render, compare renders, dailies, review, a b compare, wipe"],
  ["shot list", "breakdown, report, csv, spreadsheet, contact sheet"],
  ["sound", "audio, mute, volume, music, effects, wav"],
  ["lines", "dialogue, dialog, script, screenplay, subtitles, captions, words, speech, fountain, srt, vtt"],
  ["hide every camera", "clean stage, declutter"],
  ["show every camera", "unhide cameras"],
  ["dolly", "push in, pull out, pull back, track in, track out, push, creep in, move in, travel"],
  ["truck", "track, crab, slide sideways, lateral, tracking shot"],
  ["boom", "crane, jib, pedestal, ped up, ped down, raise, lower, rise, elevator"],
  ["pan", "swish, whip, turn sideways, pan left, pan right, look left, look right"],
  ["tilt", "tilt up, tilt down, look up, look down"],
  ["move the camera roll", "dutch, canted, bank"],
  ["go round", "arc, orbit, circle, revolve, rotate around, swing round"],
  ["close in", "approach, push in, move closer"],
  ["dolly zoom", "zolly, contra zoom, counter zoom, trombone, stretch"],
  ["zoom", "focal length, punch in, crash zoom"],
  ["stand still", "hold, freeze camera, static, lock off, moving hold, drift"],
  ["turn the camera", "face, look at, aim once, orient"],
  ["go to a view", "move to, fly to, travel to a perch, blend to"],
  ["lanes, curves, keys", "soften, ease in, ease out, smooth keys, feel"],
  ["next part of the desk", "panel, region, pane, window"],
  ["all keys", "shortcuts, hotkeys, keyboard, help"],
];

const simple = (text: string) => text.toLowerCase().trim();

/** What something typed may stand for, in words that actions use. */
export function meant(typed: string): string[] {
  const asked = simple(typed);
  if (asked.length < 2) return [];
  return GROUPS.filter(([, words]) =>
    words.split(",").some((word) => simple(word).split(" ").length && simple(word).startsWith(asked)),
  ).map(([means]) => means);
}

/** How many words are known. */
export const KNOWN = GROUPS.flatMap(([, words]) => words.split(",")).length;
