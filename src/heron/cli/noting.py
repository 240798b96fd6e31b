"""Notes on the command line."""

import argparse
from pathlib import Path

from heron.bake import Bake
from heron.cli.scenes import read
from heron.cli.words import number, say
from heron.commands.base import Command
from heron.commands.note_remedies import remedies_of
from heron.commands.noting import BringBack, PutAside, SetThreshold
from heron.commands.registry import run_one
from heron.errors import BadInput
from heron.model import changed
from heron.notes import KINDS
from heron.notes.speaking import kind_named, said_of_camera, said_of_cut
from heron.scene import Scene, find_named, write_scene
from heron.timebase import Frames
from heron.timebase.frames import parse_frames


def do_notes(args: argparse.Namespace) -> None:
    """`heron notes`."""
    if args.thresholds:
        say(
            {
                kind.name: {
                    "label": kind.label, "of": kind.of, "unit": kind.unit, "default": kind.threshold, "least": kind.least,
                    "most": kind.most, "worse": "more" if kind.worse > 0 else "less", "source": kind.source,
                }
                for kind in KINDS.values()
            }
        )  # fmt: skip
        return
    if args.scene is None:
        raise BadInput("No scene was given.", "Give a scene's JSON file, or --thresholds.")
    if args.cut == (args.camera is not None):
        raise BadInput("Notes are of a camera or of the cut.", "Give --camera C, or --cut.")
    scene = read(args.scene)
    bake = Bake(scene)
    if args.cut:
        found = said_of_cut(bake, args.all)
    else:
        camera = find_named(scene, "cameras", args.camera)
        frames = scene.frames if args.frames is None else parse_frames(args.frames)
        if frames.first < scene.frames.first or frames.last > scene.frames.last:
            raise BadInput(
                f"The stage has no frames {frames.first}–{frames.last}.",
                f"Give frames within {scene.frames.first}-{scene.frames.last}.",
            )
        found = said_of_camera(bake, camera, frames, args.all)
    found = [changed(note, remedies=tuple(remedies_of(scene, note))) for note in found]
    say([note.model_dump(mode="json", exclude={"of"}) for note in found])


def do_note(args: argparse.Namespace) -> None:
    """`heron note`."""
    scene = read(args.scene)
    if (args.aside is None) == (args.threshold is None):
        raise BadInput("One thing is done at a time.", "Give --aside KIND, or --threshold KIND=NUMBER.")
    command: Command
    if args.threshold is not None:
        name, _, value = args.threshold.partition("=")
        kind = kind_named(name.strip())
        command = SetThreshold(note=kind.name, to=number(value, "threshold", kind.least, kind.most))
    elif args.back:
        command = BringBack(note=kind_named(args.aside).name)
    else:
        command = _aside(scene, args)
    scene, said = run_one(scene, command)
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say({"out": args.out, "said": said})


def _aside(scene: Scene, args: argparse.Namespace) -> PutAside:
    frames: Frames | None = None if args.frames is None else parse_frames(args.frames)
    joint = None
    if args.joint is not None:
        joint = tuple(find_named(scene, "shots", name.strip()).id for name in args.joint.split(","))
    return PutAside(
        note=args.aside, camera=None if args.camera is None else find_named(scene, "cameras", args.camera).id, joint=joint,
        frames=frames, why=args.why or "",
    )  # fmt: skip
