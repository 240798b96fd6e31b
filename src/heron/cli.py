"""The `heron` command line: JSON out, exit 2 and one clear line on standard error for bad input."""

import argparse
import json
import re
import sys
from pathlib import Path
from typing import Any, NoReturn

import numpy as np

from heron.bake import Baker, camera_samples
from heron.commands import parse_commands, run
from heron.cut import lay_out
from heron.demo import slack_tide
from heron.errors import BadInput, HeronError, NotFound
from heron.formats.gltf import write_stage
from heron.formats.otio import write_otio
from heron.framing import project
from heron.optics import Lens, field_of_view, gate_size, parse_delivery
from heron.optics.backs import parse_back
from heron.optics.view import LONGEST_MM, SHORTEST_MM
from heron.scene import Scene, find_named, read_scene, write_scene
from heron.stage.body import INDEX, LANDMARKS
from heron.timebase import Frames, format_timecode, parse_rate, parse_timecode
from heron.timebase.frames import parse_frames


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise BadInput(f"{message[:1].upper()}{message[1:]}.", f"See {self.prog} --help.")


def main(argv: list[str] | None = None) -> int:
    """Run one command; the exit status."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        args = _parser().parse_args(_join_negative(words))
        args.do(args)
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
    top = _Parser(prog="heron", description="Lenses, timecode and scenes, as JSON.")
    verbs = top.add_subparsers(dest="verb", required=True, parser_class=_Parser)

    def verb(name: str, do: Any, help_: str) -> _Parser:
        sub: _Parser = verbs.add_parser(name, help=help_)
        sub.set_defaults(do=do)
        return sub

    lens = verb("lens", _lens, "fields of view of a lens on a film back")
    lens.add_argument("--back", required=True, help="film back in millimetres, as 36x24")
    lens.add_argument("--focal", required=True, help="focal length in millimetres")
    lens.add_argument("--delivery", required=True, help="delivery aspect, as 16:9 or 2.39")
    lens.add_argument("--gate", default="fit", choices=["fit", "fill", "width", "height"])
    lens.add_argument("--squeeze", default="1", help="anamorphic squeeze")

    timecode = verb("timecode", _timecode, "frames to timecode, or back")
    timecode.add_argument("value", help="a frame count, or HH:MM:SS:FF")
    timecode.add_argument("--rate", required=True)
    timecode.add_argument("--drop", action="store_true")

    demo = verb("demo", _demo, "write the demo scene")
    demo.add_argument("--out", required=True)

    listing = verb("list", _list, "what is in a scene")
    listing.add_argument("scene")

    bake = verb("bake", _bake, "a camera's samples")
    bake.add_argument("scene")
    bake.add_argument("--camera", required=True)
    bake.add_argument("--frames", required=True)

    see = verb("project", _project, "where a camera sees a point")
    see.add_argument("scene")
    see.add_argument("--camera", required=True)
    see.add_argument("--frame", required=True)
    see.add_argument("--size", required=True, help="pixels, as 1920x1080")
    what = see.add_mutually_exclusive_group(required=True)
    what.add_argument("--point", help="X,Y,Z in metres")
    what.add_argument("--joint", help="figure/joint, as Odile/head")

    apply = verb("run", _run, "apply commands to a scene, all or none")
    apply.add_argument("scene")
    apply.add_argument("commands")
    apply.add_argument("--out", required=True)

    export = verb("export", _export, "hand over the cut or the stage")
    export.add_argument("scene")
    export.add_argument("--to", required=True, choices=["otio", "glb"])
    export.add_argument("--out", required=True)
    return top


def _say(value: Any) -> None:
    print(json.dumps(value, allow_nan=False))


def _number(text: str, field: str, low: float, high: float) -> float:
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not low <= value <= high:
        raise BadInput(
            f"{text!r:.40} is not a {field}.", f"Give a number from {low:g} to {high:g}.", field=field
        )
    return value


def _whole(text: str, field: str) -> int:
    try:
        return int(text)
    except ValueError:
        raise BadInput(f"{text!r:.40} is not a {field}.", "Give a whole number.", field=field) from None


def _scene(path: str) -> Scene:
    try:
        return read_scene(Path(path).read_text(encoding="utf-8"))
    except UnicodeDecodeError:
        raise BadInput(f"{path} is not text, so it is not a scene.", "Give a scene's JSON file.") from None


def _lens(args: argparse.Namespace) -> None:
    focal = _number(args.focal, "focal length", SHORTEST_MM, LONGEST_MM)
    lens = Lens(
        back=parse_back(args.back), gate=args.gate, squeeze=_number(args.squeeze, "squeeze", 0.5, 2.5)
    )
    aspect = parse_delivery(args.delivery).aspect
    wide, high, diagonal = (float(v) for v in field_of_view(lens, aspect, np.array([focal]))[0])
    _say(
        {
            "gate_mm": list(gate_size(lens, aspect)),
            "horizontal_deg": wide,
            "vertical_deg": high,
            "diagonal_deg": diagonal,
        }
    )


def _timecode(args: argparse.Namespace) -> None:
    rate = parse_rate(args.rate)
    if ":" in args.value or ";" in args.value:
        if args.drop and ";" not in args.value:
            raise BadInput("Drop-frame timecode is written with a semicolon.", "Write it as HH:MM:SS;FF.")
        _say({"frame": parse_timecode(args.value, rate)})
    else:
        _say({"timecode": format_timecode(_whole(args.value, "frame"), rate, args.drop)})


def _demo(args: argparse.Namespace) -> None:
    scene = slack_tide()
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    _say({"out": args.out, "name": scene.name})


def _list(args: argparse.Namespace) -> None:
    scene = _scene(args.scene)
    letters = {c.id: c.letter for c in scene.cameras}
    _say(
        {
            "name": scene.name,
            "rate": scene.rate,
            "first": scene.frames.first,
            "last": scene.frames.last,
            "cameras": [{"letter": c.letter, "name": c.name} for c in scene.cameras],
            "figures": [f.name for f in scene.figures],
            "shots": [
                {
                    "name": p.shot.name, "camera": letters[p.shot.camera],
                    "first": p.shot.stage.first, "last": p.shot.stage.last,
                    "cut_first": p.cut_first, "cut_last": p.cut_last,
                }
                for p in lay_out(scene)
            ],
        }
    )  # fmt: skip


def _within(scene: Scene, frames: Frames) -> Frames:
    if frames.first not in scene.frames or frames.last not in scene.frames:
        raise BadInput(
            f"Frames {frames} are outside the scene's range {scene.frames}.",
            "Ask for frames inside it.",
            field="frames",
        )
    return frames


def _bake(args: argparse.Namespace) -> None:
    scene = _scene(args.scene)
    camera = find_named(scene, "cameras", args.camera)
    frames = _within(scene, parse_frames(args.frames))
    samples = camera_samples(scene, camera, frames)
    rows = []
    for frame in frames.each():
        at = samples.at(frame)
        rows.append(
            {
                "frame": frame, "position": [at["x"], at["y"], at["z"]],
                "pan_deg": at["pan"], "tilt_deg": at["tilt"], "roll_deg": at["roll"], "focal_mm": at["focal_mm"],
            }
        )  # fmt: skip
    _say(rows)


def _size(text: str, aspect: float) -> tuple[int, int]:
    match = re.fullmatch(r"(\d{1,5})[x×](\d{1,5})", text.strip())
    wide, high = (int(match[1]), int(match[2])) if match else (0, 0)
    if wide < 1 or high < 1:
        raise BadInput(
            f"{text!r:.40} is not a picture size.", "Write it in pixels, as 1920x1080.", field="size"
        )
    # Pixels are square: a size may differ from the delivery aspect by less than one pixel.
    if abs(wide - high * aspect) >= max(1.0, aspect):
        raise BadInput(
            f"A picture of {text} has another aspect than the delivery ({aspect:.4g}).",
            f"Ask for {wide}x{round(wide / aspect)}.",
            field="size",
        )
    return wide, high


def _project(args: argparse.Namespace) -> None:
    scene = _scene(args.scene)
    camera = find_named(scene, "cameras", args.camera)
    frame = _whole(args.frame, "frame")
    _within(scene, parse_frames(str(frame)))
    wide, high = _size(args.size, scene.delivery.aspect)
    world = _joint(scene, args.joint, frame) if args.joint else _point(args.point)
    seen = project(camera_samples(scene, camera, Frames(first=frame, last=frame)), world[None])
    ahead = bool(seen.depth[0] > 0)
    _say(
        {
            "x": float((seen.x[0] + 1) / 2 * wide) if ahead else None,
            "y": float((1 - seen.y[0]) / 2 * high) if ahead else None,
            "depth_m": float(seen.depth[0]),
            "in_frame": bool(seen.inside[0]),
            "world": [float(v) for v in world],
        }
    )


def _point(text: str) -> np.ndarray[Any, np.dtype[np.float64]]:
    parts = text.split(",")
    if len(parts) != 3:
        raise BadInput(f"{text!r:.40} is not a point.", "Write it as X,Y,Z in metres.", field="point")
    return np.array([_number(p, "coordinate", -1e6, 1e6) for p in parts])


def _joint(scene: Scene, text: str, frame: int) -> np.ndarray[Any, np.dtype[np.float64]]:
    who, _, joint = text.rpartition("/")
    figure = find_named(scene, "figures", who)
    if joint not in INDEX and joint not in LANDMARKS:
        raise NotFound(
            f"{figure.name} has no joint {joint!r:.40}.", f"Use one of {', '.join([*INDEX, *LANDMARKS])}."
        )
    done = Baker().performance(scene, figure)
    place: np.ndarray[Any, np.dtype[np.float64]] = done.landmark(joint, figure.stature)[
        frame - scene.frames.first
    ]
    return place


def _run(args: argparse.Namespace) -> None:
    scene = _scene(args.scene)
    after, sentences = run(scene, parse_commands(Path(args.commands).read_text(encoding="utf-8")))
    Path(args.out).write_text(write_scene(after), encoding="utf-8")
    _say({"out": args.out, "done": sentences})


def _export(args: argparse.Namespace) -> None:
    scene = _scene(args.scene)
    content = write_otio(scene).encode() if args.to == "otio" else write_stage(scene)
    Path(args.out).write_bytes(content)
    _say({"out": args.out, "bytes": len(content)})


if __name__ == "__main__":
    sys.exit(main())
