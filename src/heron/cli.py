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
from heron.model import STAGE_LIMIT_M
from heron.optics import (
    Lens,
    blur_mm,
    circle_of_confusion,
    exposure_value,
    field_of_view,
    gate_size,
    hyperfocal,
    parse_delivery,
    sharp_limits,
    shutter_seconds,
)
from heron.optics.backs import parse_back
from heron.optics.exposure import (
    FASTEST_ISO,
    LARGEST_SHUTTER,
    NARROWEST_STOP,
    SLOWEST_ISO,
    SMALLEST_SHUTTER,
    WIDEST_STOP,
)
from heron.optics.focus import nearest_possible
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

    dof = verb("dof", _dof, "what is sharp through a lens")
    dof.add_argument("--back", required=True, help="film back in millimetres, as 36x24")
    dof.add_argument("--focal", required=True, help="focal length in millimetres")
    dof.add_argument("--aperture", required=True, help="f-number")
    dof.add_argument("--focus", required=True, help="focus distance in metres, or inf")
    dof.add_argument("--coc", help="circle of confusion in millimetres; left out, the back's own")
    dof.add_argument("--at", help="a point's distance in metres, or inf")
    dof.add_argument("--width", help="pixels across the film back")

    exposure = verb("exposure", _exposure, "shutter time and exposure value")
    exposure.add_argument("--aperture", required=True, help="f-number")
    exposure.add_argument("--shutter", required=True, help="shutter angle in degrees")
    exposure.add_argument("--rate", required=True, help="frames a second")
    exposure.add_argument("--iso", required=True)

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


def _distance(text: str, field: str) -> float:
    """Metres as their reciprocal, 1/m; infinity is 0."""
    if text.strip().lower() in ("inf", "infinity", "∞"):
        return 0.0
    return 1 / _number(text, field, 1e-3, STAGE_LIMIT_M)


def _dof(args: argparse.Namespace) -> None:
    back = parse_back(args.back)
    focal = _number(args.focal, "focal length", SHORTEST_MM, LONGEST_MM)
    stop = _number(args.aperture, "stop", WIDEST_STOP, NARROWEST_STOP)
    focus = _distance(args.focus, "focus distance")
    if focus * nearest_possible(focal) > 1:
        raise BadInput(
            f"Nothing at {args.focus} m can be sharp through {focal:g} mm.",
            f"Focus at {nearest_possible(focal):g} m or farther.",
            field="focus",
        )
    given = _number(args.coc, "circle of confusion", 1e-4, 1.0) if args.coc else None
    confusion = circle_of_confusion(back, given)
    f, n, s = np.array([focal]), np.array([stop]), np.array([focus])
    near, far = (float(v[0]) for v in sharp_limits(f, n, s, confusion))
    blur = float(blur_mm(f, n, s, np.array([_distance(args.at, "distance")]))[0]) if args.at else None
    wide = _number(args.width, "width", 1, 100_000) if args.width else None
    _say(
        {
            "hyperfocal_m": float(hyperfocal(f, n, confusion)[0]),
            "near_m": 1 / near,
            "far_m": 1 / far if far > 0 else None,
            "total_m": 1 / far - 1 / near if far > 0 else None,
            "blur_mm": blur,
            "blur_px": blur / back.width_mm * wide if blur is not None and wide else None,
        }
    )


def _exposure(args: argparse.Namespace) -> None:
    stop = _number(args.aperture, "stop", WIDEST_STOP, NARROWEST_STOP)
    angle = _number(args.shutter, "shutter angle", SMALLEST_SHUTTER, LARGEST_SHUTTER)
    iso = _number(args.iso, "sensitivity", SLOWEST_ISO, FASTEST_ISO)
    seconds = shutter_seconds(angle, float(parse_rate(args.rate)))
    _say({"shutter_s": seconds, "ev": float(exposure_value(np.array([stop]), seconds, iso)[0])})


def _metres(per_m: float) -> float | None:
    return 1 / per_m if per_m > 0 else None


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
                "aperture": at["aperture"], "focus_m": _metres(at["focus_per_m"]), "exposure_ev": at["exposure_ev"],
                "near_m": at["near_m"], "far_m": at["far_m"], "sharp_near_m": _metres(at["sharp_near_per_m"]),
                "sharp_far_m": _metres(at["sharp_far_per_m"]),
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
