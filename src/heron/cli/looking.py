"""Compositions and lookouts on the command line."""

import argparse
from pathlib import Path

from heron.bake import Bake
from heron.cli.rigs import subject
from heron.cli.scenes import read
from heron.cli.words import number, parse_int, say
from heron.commands.composing import ComposeCamera, PutInFrame, SizeInFrame
from heron.commands.registry import run_one
from heron.errors import BadInput
from heron.lookouts import lookouts, read_asked
from heron.lookouts.search import MOST
from heron.scene import Scene, find_named, write_scene
from heron.timebase.frames import parse_frames


def do_lookouts(args: argparse.Namespace) -> None:
    """`heron lookouts`."""
    scene = read(args.scene)
    frames = scene.frames if args.frames is None else parse_frames(args.frames)
    count = int(number(args.count, "count", 1, MOST))
    found = lookouts(Bake(scene), read_asked(scene, args.ask), frames, count)
    say([one.model_dump(mode="json", exclude={"focus", "focus_m"}) for one in found])


def do_compose(args: argparse.Namespace) -> None:
    """`heron compose`."""
    scene = read(args.scene)
    if len(args.put) > 2 or len(args.size) > 1:
        raise BadInput(
            "A camera can be found for two places and one size.",
            "Give --put once or twice, and --size once at most.",
        )
    size = _size(scene, args.size[0]) if args.size else None
    command = ComposeCamera(
        camera=find_named(scene, "cameras", args.camera).id, frame=parse_int(args.frame, "frame"),
        put=tuple(_put(scene, words) for words in args.put), size=size,
    )  # fmt: skip
    after, said = run_one(scene, command)
    Path(args.out).write_text(write_scene(after), encoding="utf-8")
    say({"out": args.out, "said": said})


def _put(scene: Scene, words: str) -> PutInFrame:
    who, _, where = words.partition("=")
    places = where.split(",")
    if len(places) != 2:
        raise BadInput(
            f"“{words:.60}” names no place.", "Write it as Odile/eyes=-0.3,0.33: across and up, -1 to 1."
        )
    x, y = (number(one, "place in the frame", -1.0, 1.0) for one in places)
    return PutInFrame(on=subject(scene, who), x=x, y=y)


def _size(scene: Scene, words: str) -> SizeInFrame:
    who, _, share = words.partition("=")
    figure = find_named(scene, "figures", who)
    return SizeInFrame(figure=figure.id, share=number(share, "size", 0.01, 30.0))
