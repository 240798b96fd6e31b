"""The cut on the command line: what is in it, edited, and how far an edit goes."""

import argparse
import json
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from heron.cli.scenes import read
from heron.cli.words import parse_int, say
from heron.commands.cut_edits import Edit, MoveEdges
from heron.commands.cutting import EditCut, limits
from heron.commands.registry import run_one
from heron.cut import Clocks
from heron.errors import BadInput, from_validation
from heron.film.frames import Film, Reel
from heron.scene import write_scene
from heron.timebase import parse_rate

_EDIT: TypeAdapter[Any] = TypeAdapter(Edit)


def do_cut(args: argparse.Namespace) -> None:
    """`heron cut`."""
    scene = read(args.scene)
    clocks = Clocks(scene)
    letters = {camera.id: camera.letter for camera in scene.cameras}
    say(
        {
            "length": clocks.length,
            "shots": [
                {
                    "id": one.shot.id, "name": one.shot.name, "camera": letters.get(one.shot.camera or ""),
                    "cut": [one.cut_first, one.cut_last], "stage": [one.shot.stage.first, one.shot.stage.last],
                    "gap_before": one.shot.gap_before,
                    "sound_lead": one.shot.sound_lead,
                    "dissolve": list(one.shot.dissolve) if one.shot.dissolve else None,
                    "fade_in": one.shot.fade_in, "fade_out": one.shot.fade_out,
                    "versions": [version.name for version in one.shot.versions],
                    **({"fade_colour": one.shot.fade_colour} if one.shot.fade_in or one.shot.fade_out else {}),
                }
                for one in clocks.placed
            ],
        }
    )  # fmt: skip


def do_edit(args: argparse.Namespace) -> None:
    """`heron edit`."""
    scene = read(args.scene)
    asked = [_parsed(text) for text in args.do]
    if args.limits:
        wrong = next((one for one in asked if not isinstance(one, MoveEdges)), None)
        if wrong is not None:
            raise BadInput(
                f"“{wrong.edit}” has no limits to ask for.",
                "Ask for a trim, a roll, a slip, a slide, or the sound's cut.",
            )
        say([
            {"edit": one.edit, "shots": list(one.shots), "by": [stop.by for stop in found], "stops": [stop.why for stop in found]}
            for one in asked
            for found in [limits(scene, one)]
        ])  # fmt: skip
        return
    if not args.out:
        raise BadInput(
            "Nowhere to write the scene was named.", "Give --out FILE, or --limits to ask how far it goes."
        )
    said = []
    for one in asked:
        scene, sentence = run_one(scene, EditCut(do=one))
        said.append(sentence)
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "said": said})


def do_live(args: argparse.Namespace) -> None:
    """`heron live`."""
    scene = read(args.scene)
    try:
        presses = json.loads(args.presses)
    except ValueError:
        raise BadInput("Presses are given as JSON.", 'As in [[0.4, "B"], [2.1, "A"]].') from None
    asked = {"edit": "live", "start": args.start, "presses": presses}
    asked |= {
        name: value for name in ("speed", "delay", "shortest") if (value := getattr(args, name)) is not None
    }
    scene, said = run_one(scene, EditCut(do=_checked(asked)))
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "said": said})


def do_film(args: argparse.Namespace) -> None:
    """`heron film`."""
    scenes = [read(path) for path in args.scenes]
    clocks = [Clocks(scene) for scene in scenes]
    rate = parse_rate(args.rate)
    film = Film(
        [Reel(scene.name, c.length, c.rate, args.fit) for scene, c in zip(scenes, clocks, strict=True)], rate
    )
    told: dict[str, Any] = {
        "length": film.length,
        "scenes": [
            {"scene": scene.name, "film": [begin, end - 1]}
            for scene, begin, end in zip(scenes, film.begins, film.begins[1:], strict=False)
        ],
    }
    if args.at is not None:
        place, cut = film.shows(parse_int(args.at, "frame"))
        found = clocks[place].to_stage(cut)
        told["at"] = {
            "scene": scenes[place].name, "shot": clocks[place].placed[found[0]].shot.name if found else None,
            "cut": cut, "stage": found[1] if found else None,
        }  # fmt: skip
    say(told)


def _parsed(text: str) -> Any:
    try:
        return _checked(json.loads(text))
    except ValueError:
        raise BadInput(
            "An edit is given as JSON.", 'As in {"edit": "roll", "shots": ["020"], "by": 5}.'
        ) from None


def _checked(asked: Any) -> Any:
    try:
        return _EDIT.validate_python(asked)
    except ValidationError as error:
        raise from_validation(error, "Edit") from None
