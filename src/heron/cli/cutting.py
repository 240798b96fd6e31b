"""The cut on the command line: what is in it, edited, and how far an edit goes."""

import argparse
import json
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from heron.cli.scenes import read
from heron.cli.words import say
from heron.commands.cutting import Edit, EditCut, MoveEdges, limits
from heron.commands.registry import run_one
from heron.cut import Clocks
from heron.errors import BadInput, from_validation
from heron.scene import write_scene

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
                    "id": one.shot.id, "name": one.shot.name, "camera": letters.get(one.shot.camera),
                    "cut": [one.cut_first, one.cut_last], "stage": [one.shot.stage.first, one.shot.stage.last],
                    "gap_before": one.shot.gap_before,
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
                f"“{wrong.edit}” has no limits to ask for.", "Ask for a trim, a roll, a slip or a slide."
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


def _parsed(text: str) -> Any:
    try:
        return _EDIT.validate_python(json.loads(text))
    except ValueError as error:
        if isinstance(error, ValidationError):
            raise from_validation(error, "Edit") from None
        raise BadInput(
            "An edit is given as JSON.", 'As in {"edit": "roll", "shots": ["020"], "by": 5}.'
        ) from None
