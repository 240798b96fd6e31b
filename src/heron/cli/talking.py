"""What comes in on the command line: dialogue and sounds; and lines listed."""

import argparse
from pathlib import Path
from typing import cast, get_args

from heron.cli.scenes import read
from heron.cli.sounding import SOUNDS, lay_sound
from heron.cli.words import parse_int, say
from heron.commands.lines import BringLines, TextForm
from heron.commands.registry import run_one
from heron.errors import BadInput
from heron.lines import speaker, timed
from heron.scene import write_scene


def do_lines(args: argparse.Namespace) -> None:
    """`heron lines`."""
    scene = read(args.scene)
    sounds = {one.line: one.name for one in scene.sounds}
    say(
        [
            {
                "id": one.line.id, "who": speaker(scene, one.line), "text": one.line.text, "first": one.first,
                "last": one.last, "sound": sounds.get(one.line.id),
                "words": [{"text": word, "first": first} for word, first in zip(one.line.words, one.words, strict=True)],
            }
            for one in timed(scene)
        ]
    )  # fmt: skip


def do_bring(args: argparse.Namespace) -> None:
    """`heron bring`."""
    scene, path = read(args.scene), Path(args.file)
    form = path.suffix.lower().removeprefix(".")
    if path.suffix.lower() in SOUNDS:
        lay_sound(args)
        return
    if form not in get_args(TextForm) or form == "any":
        raise BadInput(
            f"{path.name} cannot be brought in.",
            "Give a .fountain, .vtt or .srt file, or a .wav, .flac, .ogg or .mp3.",
        )
    try:
        text = path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput(f"{path.name} is not UTF-8 text.", "Save it as UTF-8 and bring it in again.") from None
    at = None if args.at is None else parse_int(args.at, "frame")
    command = BringLines(form=cast(TextForm, form), text=text, at=at, make=args.make)
    scene, said = run_one(scene, command)
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "said": said})
