"""The `heron` command line: JSON out, exit 2 and one clear line on standard error for bad input.

Each verb's module is loaded when it is asked for, so that a number about a lens comes at once.
"""

import argparse
import re
import sys
from importlib import import_module
from typing import Any, NoReturn

from heron.errors import BadInput, HeronError


class _Version(argparse.Action):
    """Prints the version; it is looked up only when it is asked for."""

    def __call__(self, *_: Any) -> NoReturn:
        import heron

        print(f"heron {heron.__version__}")
        sys.exit(0)


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise BadInput(f"{message[:1].upper()}{message[1:]}.", f"See {self.prog} --help.")


def main(argv: list[str] | None = None) -> int:
    """Run one command; the exit status."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        args = _parser().parse_args(_join_negative(words))
        do: Any = getattr(import_module(f"heron.cli.{args.module}"), f"do_{args.verb}")
        do(args)
    except HeronError as error:
        print(" ".join(str(error).split()), file=sys.stderr)
        return 2
    except OSError as error:
        print(
            f"{error.filename or 'The file'}: {error.strerror}. Check the path and try again.",
            file=sys.stderr,
        )
        return 2
    return 0


def _join_negative(words: list[str]) -> list[str]:
    """`--point -1,2,3` as `--point=-1,2,3`, which argparse would take for an option."""
    out: list[str] = []
    for word in words:
        if out and out[-1].startswith("--") and "=" not in out[-1] and re.match(r"^-[\d.]", word):
            out[-1] += f"={word}"
        else:
            out.append(word)
    return out


def _parser() -> _Parser:
    top = _Parser(
        prog="heron",
        description="Lenses, timecode and scenes, as JSON.",
        epilog="Examples: heron lens --back 36x24 --focal 40 · heron demo --out scene.json",
    )
    top.add_argument("--version", action=_Version, nargs=0, help="print the version")
    verbs = top.add_subparsers(dest="verb", required=True, parser_class=_Parser)

    def verb(name: str, module: str, help_: str) -> _Parser:
        sub: _Parser = verbs.add_parser(name, help=help_)
        sub.set_defaults(module=module)
        return sub

    lens = verb("lens", "glass", "fields of view of a lens on a film back")
    lens.add_argument("--back", required=True, help="film back in millimetres, as 36x24")
    lens.add_argument("--focal", required=True, help="focal length in millimetres")
    lens.add_argument("--delivery", required=True, help="delivery aspect, as 16:9 or 2.39")
    lens.add_argument("--gate", default="fit", choices=["fit", "fill", "width", "height"])
    lens.add_argument("--squeeze", default="1", help="anamorphic squeeze")

    dof = verb("dof", "glass", "what is sharp through a lens")
    dof.add_argument("--back", required=True, help="film back in millimetres, as 36x24")
    dof.add_argument("--focal", required=True, help="focal length in millimetres")
    dof.add_argument("--aperture", required=True, help="f-number")
    dof.add_argument("--focus", required=True, help="focus distance in metres, or inf")
    dof.add_argument("--coc", help="circle of confusion in millimetres; left out, the back's own")
    dof.add_argument("--at", help="a point's distance in metres, or inf")
    dof.add_argument("--width", help="pixels across the film back")

    exposure = verb("exposure", "glass", "shutter time and exposure value")
    exposure.add_argument("--aperture", required=True, help="f-number")
    exposure.add_argument("--shutter", required=True, help="shutter angle in degrees")
    exposure.add_argument("--rate", required=True, help="frames a second")
    exposure.add_argument("--iso", required=True)

    timecode = verb("timecode", "time", "frames to timecode, or back")
    timecode.add_argument("value", help="a frame count, or HH:MM:SS:FF")
    timecode.add_argument("--rate", required=True)
    timecode.add_argument("--drop", action="store_true")

    demo = verb("demo", "scenes", "write the demo scene")
    demo.add_argument("--out", required=True)

    seen = verb("seen", "rigs", "a subject as the audience sees it: height, place and speed in the frame")
    seen.add_argument("scene")
    seen.add_argument("--camera", required=True)
    seen.add_argument("--subject", required=True, help="as Bram, Bram/head or Rowing boat")
    seen.add_argument("--size", required=True, help="pixels, as 1920x1080")
    seen.add_argument("--frames", help="as 1010-1060; left out, all of the scene's")

    hitches = verb("hitches", "motion", "where a camera's move stalls, kicks, pumps or makes a chord")
    mend = verb("mend", "motion", "take the smallest changes that take hitches away")
    for sub in (hitches, mend):
        sub.add_argument("scene")
        sub.add_argument("--camera", required=True)
        sub.add_argument("--subject", required=True, help="as Bram, Bram/head or Rowing boat")
    mend.add_argument("--out", required=True)

    curve = verb("curve", "curves", "values of keys, frame by frame")
    curve.add_argument("keys", help="a file with a list of keys")
    curve.add_argument("--frames", required=True)

    simplify = verb("simplify", "curves", "fewer keys that give the same values within an error")
    simplify.add_argument("keys", help="a file with a list of keys")
    simplify.add_argument("--error", required=True, help="in the values' own unit")

    listing = verb("list", "scenes", "what is in a scene")
    listing.add_argument("scene")

    bake = verb("bake", "scenes", "a camera's samples")
    bake.add_argument("scene")
    bake.add_argument("--camera", required=True)
    bake.add_argument("--frames", required=True)

    see = verb("project", "scenes", "where a camera sees a point")
    see.add_argument("scene")
    see.add_argument("--camera", required=True)
    see.add_argument("--frame", required=True)
    see.add_argument("--size", required=True, help="pixels, as 1920x1080")
    what = see.add_mutually_exclusive_group(required=True)
    what.add_argument("--point", help="X,Y,Z in metres")
    what.add_argument("--joint", help="figure/joint, as Odile/head")

    apply = verb("run", "scenes", "apply commands to a scene, all or none")
    apply.add_argument("scene")
    apply.add_argument("commands")
    apply.add_argument("--out", required=True)

    rig = verb("rig", "rigs", "layers of a camera: put on, put off, or turned into keys")
    rig.add_argument("scene")
    rig.add_argument("--camera", required=True)
    rig.add_argument("--add", help="a file with a layer, or a list of them")
    rig.add_argument("--turntable", help='as {"round": "Bram", "seconds": 4, "direction": "left"}')
    rig.add_argument("--off", help="the number of a layer, as explain lists them")
    rig.add_argument("--to-keys", action="store_true")
    rig.add_argument("--frames", help="only from here to here, as 1010-1060; outside the layers go on")
    rig.add_argument("--error", help="metres the keys may be off by; degrees ten times as much")
    rig.add_argument("--out", required=True)

    explain = verb("explain", "rigs", "what a camera's layers do, in words")
    explain.add_argument("scene")
    explain.add_argument("--camera", required=True)

    watch = verb("watch", "rigs", "where a camera's exact placements are asked for and found")
    watch.add_argument("scene")
    watch.add_argument("--camera", required=True)
    watch.add_argument("--size", required=True, help="pixels, as 1920x1080")

    joints = verb("joints", "acting", "where a figure's joints are")
    joints.add_argument("scene")
    joints.add_argument("--figure", required=True)
    joints.add_argument("--frames", required=True)

    face = verb("face", "acting", "the ten numbers of a figure's face")
    face.add_argument("scene")
    face.add_argument("--figure", required=True)
    face.add_argument("--frames", required=True)

    walk = verb("walk", "acting", "how fast a figure walks, or when it arrives")
    walk.add_argument("scene")
    walk.add_argument("--figure", required=True)
    pace = walk.add_mutually_exclusive_group(required=True)
    pace.add_argument("--speed", help="metres a second")
    pace.add_argument("--arrive", help="the frame by which the last walk arrives")
    walk.add_argument("--out", required=True)

    act = verb("act", "acting", "something a figure does: put on a lane, changed or deleted")
    act.add_argument("scene", nargs="?")
    act.add_argument("--kinds", action="store_true", help="list what there is to do")
    act.add_argument("--figure")
    act.add_argument("--lane", help="body, hands, look or face")
    act.add_argument("--kind", help="what it does, as --kinds lists it")
    act.add_argument("--frames", help="as 1010-1090")
    act.add_argument("--set", help='numbers and the like, as {"points": [[0, -3]]}')
    act.add_argument("--id", help="which act to change; left out, a new one")
    act.add_argument("--slip", help="frames of its content left out at the start")
    act.add_argument("--speed", help="how much quicker its content runs, 0.25 to 4")
    act.add_argument("--repeat", help="how often its content is played")
    act.add_argument("--follow", action="store_true", help="later acts on its lane move along")
    act.add_argument("--delete", action="store_true")
    act.add_argument("--out")

    cut = verb("cut", "cutting", "the shots of the cut, on both clocks")
    cut.add_argument("scene")
    edit = verb("edit", "cutting", "edit the cut, or ask how far an edit goes")
    edit.add_argument("scene")
    edit.add_argument(
        "--do", action="append", required=True, help='{"edit": "roll", "shots": ["020"], "by": 5}'
    )
    edit.add_argument("--limits", action="store_true", help="how far each goes, and what stops it")
    edit.add_argument("--out")

    live = verb("live", "cutting", "cut live: presses of letters while the cut plays, as shots")
    live.add_argument("scene")
    live.add_argument("--presses", required=True, help='[[0.4, "B"], …]: seconds since play began')
    live.add_argument("--from", dest="start", required=True, help="the frame of the cut it plays from")
    live.add_argument("--speed")
    live.add_argument("--delay", help="seconds that each cut is moved earlier")
    live.add_argument("--shortest", help="the least frames of a shot")
    live.add_argument("--out", required=True)

    film = verb("film", "cutting", "scenes one after the other, as a film")
    film.add_argument("scenes", nargs="+")
    film.add_argument("--rate", required=True)
    film.add_argument("--fit", choices=("time", "frames"), help="how scenes of another rate are fitted")
    film.add_argument("--at", help="which scene, shot and frame a frame of the film shows")

    lines = verb("lines", "talking", "who says what, from when, word by word")
    lines.add_argument("scene")
    inspect = verb("inspect", "bringing", "what a file holds, without bringing it in")
    inspect.add_argument("file")

    bring = verb(
        "bring",
        "talking",
        "bring in a set, a prop or a character (.glb, .usd, .obj), motion (.bvh, .glb), dialogue (.fountain, .vtt, .srt) or a sound (.wav, .flac, .ogg, .mp3)",
    )
    bring.add_argument("scene")
    bring.add_argument("file")
    bring.add_argument(
        "--at", help="the stage frame that is the file's beginning; of a sound, of what --on says"
    )
    bring.add_argument(
        "--as",
        dest="as_",
        choices=["set", "prop", "character", "motion", "cameras"],
        help="what a scene file is brought in as",
    )
    bring.add_argument("--unit", choices=["m", "cm", "mm", "inch", "foot"], help="of a set or prop: its unit")
    bring.add_argument("--up", choices=["y", "z"], help="of a set or prop: which of its axes is up")
    bring.add_argument("--figure", help="of a motion: who does it; of a character: whose body it becomes")
    bring.add_argument("--clip", help="of a motion in a .glb: which of its clips; left out, the first")
    bring.add_argument(
        "--map",
        help="of a motion or a character: joints by name, as JSON, where they are not found by themselves",
    )
    bring.add_argument(
        "--few",
        action="store_true",
        help="of cameras: as few keys as stay within 5 mm, 0.05° and 0.1 mm of lens",
    )
    bring.add_argument("--stays", action="store_true", help="of a motion: it stays where the figure stands")
    bring.add_argument("--line", help="of a sound: the id of the line it is the sound of")
    bring.add_argument("--on", choices=["stage", "cut"], help="of a sound: what it lies on")
    bring.add_argument("--lane", choices=["lines", "effects", "bed", "music"], help="of a sound")
    bring.add_argument("--gain", default="0", help="of a sound: its level, decibels")
    bring.add_argument("--fade-in", default="0", help="of a sound: frames")
    bring.add_argument("--fade-out", default="0", help="of a sound: frames")
    bring.add_argument("--make", action="store_true", help="make a figure for each speaker who is none yet")
    bring.add_argument("--out", required=True)

    views = verb("lookouts", "looking", "views of what is asked for, the best first, with their reasons")
    views.add_argument("scene")
    views.add_argument(
        "--ask", default="", help='as "Odile; medium; over Bram"; left out, whatever is worth a view'
    )
    views.add_argument("--frames", help="of the stage, as 1010-1060; left out, all of the scene's")
    views.add_argument("--count", default="6", help="so many at most, up to 8")
    compose = verb("compose", "looking", "put a head, or two, at places of a camera's frame")
    compose.add_argument("scene")
    compose.add_argument("--camera", required=True, help="its letter or name")
    compose.add_argument("--frame", required=True, help="of the stage")
    compose.add_argument(
        "--put", action="append", required=True, help="as Odile/eyes=-0.3,0.33; once more for a second"
    )
    compose.add_argument(
        "--size", action="append", default=[], help="as Odile=0.8, of the frame's height from crown to soles"
    )
    compose.add_argument("--out", required=True)
    notes = verb("notes", "noting", "what a careful eye says of a camera's frames, or of the cut")
    notes.add_argument("scene", nargs="?")
    notes.add_argument("--camera", help="its letter or name")
    notes.add_argument("--frames", help="of the stage, as 1010-1060; left out, all of the scene's")
    notes.add_argument("--cut", action="store_true", help="notes of the cut, in frames of the cut")
    notes.add_argument("--all", action="store_true", help="what was put aside too")
    notes.add_argument(
        "--thresholds", action="store_true", help="every kind of note, and how strictly it speaks"
    )

    note = verb("note", "noting", "put notes aside, bring them back, or set how strictly they speak")
    note.add_argument("scene")
    note.add_argument("--aside", help="a kind of note")
    note.add_argument("--camera", help="its letter or name")
    note.add_argument("--joint", help="shots that meet, as 010,020")
    note.add_argument("--frames", help="of the stage, as 1010-1060")
    note.add_argument("--why", help="a word why")
    note.add_argument("--back", action="store_true", help="bring back what --aside names")
    note.add_argument("--threshold", help="as joint-cut=0.2")
    note.add_argument("--out", required=True)

    cover = verb("cover", "talking", "cameras that cover a conversation of two")
    cover.add_argument("scene")
    cover.add_argument("--who", help="as Odile,Bram; left out, the two with the most lines")
    cover.add_argument(
        "--frames", required=True, help="of the stage, as 1100-1200: where they talk; its middle counts"
    )
    cover.add_argument("--side", choices=["left", "right"], help="of the line from the first to the second")
    cover.add_argument("--out", required=True)
    made = verb("assemble", "talking", "a first assembly from the lines")
    made.add_argument("scene")
    made.add_argument("--pace", default="3.2", help="the usual length of a shot, seconds")
    made.add_argument("--favour", help="whose scene it is")
    made.add_argument("--close", default="0.5", help="0, wide; 1, close")
    made.add_argument("--reaction", default="0.5", help="0, only who speaks; 1, much of who listens")
    made.add_argument(
        "--lead", default="-4", help="frames from where a line begins to the cut to its speaker"
    )
    made.add_argument("--master", default="3", help="how long the shot of everyone is kept at first, seconds")
    made.add_argument("--keep", help="shots that stay, as 020,030")
    made.add_argument("--frames", help="of the stage; left out, all of it")
    made.add_argument("--out", required=True)

    mixed = verb("mix", "sounding", "the sound of the cut, as WAV")
    mixed.add_argument("scene")
    mixed.add_argument("--frames", help="of the cut, as 0-47; left out, all of it")
    mixed.add_argument("--lanes", help="as lines,effects; left out, all of them")
    mixed.add_argument("--out", required=True)
    loud = verb("loudness", "sounding", "how loud a sound file is (BS.1770), and its true peak")
    loud.add_argument("file")

    acts = verb("acts", "acting", "what a figure does, lane by lane")
    acts.add_argument("scene")
    acts.add_argument("--figure", required=True)

    frames = verb("frames", "dailies", "the frames of the cut, and what each picture depends on")
    frames.add_argument("scene")
    frames.add_argument("--shot", help="only of this shot")

    shotlist = verb("shotlist", "dailies", "the shots of the cut in order, with lens, length and move")
    shotlist.add_argument("scene")
    shotlist.add_argument("--to", choices=["csv", "json"], default="json")

    conform = verb("conform", "conforming", "what became of the cut in the edit, and taking it over")
    conform.add_argument("scene")
    conform.add_argument("file", help="an .otio, or an EDL of the CMX 3600 form")
    conform.add_argument("--rate", help="of an EDL: frames a second; left out, the scene's")
    conform.add_argument(
        "--by", choices=["frames", "time"], default="frames", help="how a list at another rate is read"
    )
    conform.add_argument("--take", help="what is taken of it, as moved,trimmed; left out, everything")
    conform.add_argument("--out", help="the scene with it; left out, it is only told")

    export = verb("export", "handover", "hand over the cut, the stage, cameras, a figure or the whole scene")
    export.add_argument("scene")
    export.add_argument(
        "--to",
        required=True,
        choices=[
            "otio",
            "edl",
            "usd",
            "usdz",
            "glb",
            "csv",
            "cameras",
            "bvh",
            "shots",
            "vtt",
            "fountain",
            "package",
        ],
        help="csv and cameras: camera data for each frame; package: the scene with all its files",
    )
    export.add_argument("--figure", help="of bvh: whose motion")
    export.add_argument("--shot", help="of usd, usdz, glb, csv, cameras: this shot's frames and camera alone")
    export.add_argument("--out", required=True)
    unpack = verb("unpack", "handover", "put a package's scene, and its files, in a folder")
    unpack.add_argument("package")
    unpack.add_argument("--out", required=True)
    return top
