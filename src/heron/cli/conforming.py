"""Cuts that came back from the edit, on the command line."""

import argparse
from pathlib import Path
from typing import cast, get_args

from heron.cli.scenes import read
from heron.cli.words import number, say
from heron.commands.conforming import ConformCut
from heron.commands.registry import run_one
from heron.cut.conforming import EVERYTHING, Taken, compared
from heron.errors import BadInput, Refused
from heron.formats.edit_in import read_edit
from heron.scene import write_scene


def do_conform(args: argparse.Namespace) -> None:
    """`heron conform`."""
    scene, path = read(args.scene), Path(args.file)
    rate = None if args.rate is None else number(args.rate, "rate", 1, 240)
    clips = read_edit(path.read_bytes(), path.name, scene, rate, args.by)
    lines = compared(scene, clips)
    if all(line.match == "none" for line in lines):
        raise Refused(
            "This list shows none of our shots: is it another scene?", "Give the scene it was made of."
        )
    take = EVERYTHING if args.take is None else tuple(one.strip() for one in args.take.split(","))
    if wrong := [one for one in take if one not in get_args(Taken)]:
        raise BadInput(
            f"Nothing of the kind {wrong[0]!r:.40} can be taken.",
            f"There are: {', '.join(EVERYTHING)}.",
            field="take",
        )
    if args.out is not None:
        after, _ = run_one(scene, ConformCut(clips=clips, take=cast(tuple[Taken, ...], take)))
        Path(args.out).write_text(write_scene(after), encoding="utf-8")
    say(
        [
            {
                "clip": None if line.clip is None else clips[line.clip].name, "shot": line.shot, "match": line.match, "what": list(line.what),
                "stage": list(line.stage) if line.stage else None, "shown": line.shown, "sentence": line.sentence,
            }
            for line in lines
        ]
    )  # fmt: skip
