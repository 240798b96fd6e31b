"""Scenes on the command line: what is in them, baked, projected, changed and handed over."""

import argparse
import re
from pathlib import Path
from typing import Any

import numpy as np

from heron.bake import Bake
from heron.cli.words import number, parse_int, say
from heron.commands import parse_commands, run
from heron.cut import lay_out
from heron.demo import slack_tide_film
from heron.errors import BadInput, NotFound
from heron.framing import project
from heron.scene import Scene, find_named, read_scene, write_scene
from heron.stage.models import find_files
from heron.stage.reference import OnFigure
from heron.stage.skeleton import INDEX, LANDMARKS
from heron.timebase import Frames
from heron.timebase.frames import parse_frames

#: The folder beside a scene in which what was brought in lies, each file under its key.
FILES = "files"


#: How sets and props end there, and how recorded motion does.
ENDINGS = (".glb", ".npz")


def kept_path(folder: Path, key: str) -> Path | None:
    """Where a file lies in a folder by its key; None where it is not there."""
    return next((one for end in ENDINGS if (one := folder / f"{key}{end}").is_file()), None)


def read(path: str) -> Scene:
    """A scene from a file; what was brought into it is found beside it.

    Raises:
        BadInput: it is none.
    """
    folder = Path(path).parent / FILES

    def kept(key: str) -> bytes | None:
        there = kept_path(folder, key)
        return there.read_bytes() if there is not None else None

    find_files(kept)
    try:
        return read_scene(Path(path).read_text(encoding="utf-8"))
    except UnicodeDecodeError:
        raise BadInput(f"{path} is not text, so it is not a scene.", "Give a scene's JSON file.") from None


def _metres(per_m: float) -> float | None:
    return 1 / per_m if per_m > 0 else None


def do_demo(args: argparse.Namespace) -> None:
    """`heron demo`."""
    scene = slack_tide_film()
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "name": scene.name})


def do_list(args: argparse.Namespace) -> None:
    """`heron list`."""
    scene = read(args.scene)
    letters = {c.id: c.letter for c in scene.cameras}
    say(
        {
            "name": scene.name,
            "rate": scene.rate,
            "first": scene.frames.first,
            "last": scene.frames.last,
            "cameras": [{"letter": c.letter, "name": c.name} for c in scene.cameras],
            "figures": [f.name for f in scene.figures],
            "shots": [
                {
                    "name": p.shot.name, "camera": letters.get(p.shot.camera or ""),
                    "first": p.shot.stage.first, "last": p.shot.stage.last,
                    "cut_first": p.cut_first, "cut_last": p.cut_last,
                }
                for p in lay_out(scene)
            ],
        }
    )  # fmt: skip


def within(scene: Scene, frames: Frames) -> Frames:
    """The frames, if the scene has them.

    Raises:
        BadInput: it has not.
    """
    if frames.first not in scene.frames or frames.last not in scene.frames:
        raise BadInput(
            f"Frames {frames} are outside the scene's range {scene.frames}.",
            "Ask for frames inside it.",
            field="frames",
        )
    return frames


def do_bake(args: argparse.Namespace) -> None:
    """`heron bake`."""
    scene = read(args.scene)
    camera = find_named(scene, "cameras", args.camera)
    frames = within(scene, parse_frames(args.frames))
    samples = Bake(scene).samples(camera, frames)
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
    say(rows)


def picture_size(text: str, aspect: float) -> tuple[int, int]:
    """A picture's width and height in pixels, of the delivery's aspect.

    Raises:
        BadInput: it is none, or of another aspect.
    """
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


def do_project(args: argparse.Namespace) -> None:
    """`heron project`."""
    scene = read(args.scene)
    camera = find_named(scene, "cameras", args.camera)
    frame = parse_int(args.frame, "frame")
    within(scene, parse_frames(str(frame)))
    wide, high = picture_size(args.size, scene.delivery.aspect)
    world = _joint(scene, args.joint, frame) if args.joint else _point(args.point)
    seen = project(Bake(scene).samples(camera, Frames(first=frame, last=frame)), world[None])
    ahead = bool(seen.depth[0] > 0)
    say(
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
    return np.array([number(p, "coordinate", -1e6, 1e6) for p in parts])


def _joint(scene: Scene, text: str, frame: int) -> np.ndarray[Any, np.dtype[np.float64]]:
    who, _, joint = text.rpartition("/")
    figure = find_named(scene, "figures", who)
    if joint not in INDEX and joint not in LANDMARKS:
        raise NotFound(
            f"{figure.name} has no joint {joint!r:.40}.", f"Use one of {', '.join([*INDEX, *LANDMARKS])}."
        )
    on = OnFigure(figure=figure.id, joint=joint)
    return np.asarray(Bake(scene).place(on, np.array([frame]))[0])


def do_run(args: argparse.Namespace) -> None:
    """`heron run`."""
    scene = read(args.scene)
    after, sentences = run(scene, parse_commands(Path(args.commands).read_text(encoding="utf-8")))
    Path(args.out).write_text(write_scene(after), encoding="utf-8")
    say({"out": args.out, "done": sentences})
