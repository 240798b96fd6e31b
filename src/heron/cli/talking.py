"""What comes in on the command line: dialogue and sounds; and lines listed."""

import argparse
from pathlib import Path
from typing import cast, get_args

from heron.assembling import Wishes
from heron.cli.bringing import bring_cameras, bring_character, bring_model, bring_motion
from heron.cli.scenes import read
from heron.cli.sounding import SOUNDS, lay_sound
from heron.cli.words import number, parse_int, say
from heron.commands.assembling import AssembleCut, staying
from heron.commands.covering import TakeCoverage, proposed
from heron.commands.lines import BringLines, TextForm
from heron.commands.registry import run_one
from heron.cut import lay_out
from heron.errors import BadInput
from heron.lines import speaker, timed
from heron.scene import find_named, write_scene
from heron.timebase.frames import parse_frames

_MODELS = (".glb", ".gltf", ".usd", ".usda", ".usdc", ".usdz", ".obj", ".png", ".jpg", ".jpeg", ".webp")


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
    path = Path(args.file)
    if args.as_ == "motion" or path.suffix.lower() == ".bvh":
        bring_motion(args)
        return
    if args.as_ in ("character", "cameras"):
        (bring_character if args.as_ == "character" else bring_cameras)(args)
        return
    if args.as_ in ("set", "prop") or path.suffix.lower() in _MODELS:
        bring_model(args)
        return
    scene = read(args.scene)
    form = path.suffix.lower().removeprefix(".")
    if path.suffix.lower() in SOUNDS:
        lay_sound(args)
        return
    if form not in get_args(TextForm) or form == "any":
        raise BadInput(
            f"{path.name} cannot be brought in.",
            "Give a .glb, .gltf, .usd, .obj or .bvh file, dialogue (.fountain, .vtt, .srt) or a sound (.wav, .flac, .ogg, .mp3).",
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


def do_cover(args: argparse.Namespace) -> None:
    """`heron cover`."""
    scene = read(args.scene)
    frames = parse_frames(args.frames)
    figures = (
        ()
        if args.who is None
        else tuple(find_named(scene, "figures", name.strip()).id for name in args.who.split(","))
    )
    if args.who is not None and len(figures) < 2:
        raise BadInput("A conversation is between two or more.", "Give names, as --who Odile,Bram.")
    asked = {"figures": figures, "frame": (frames.first + frames.last) // 2, "side": args.side}
    found = proposed(scene, **asked)
    new, _ = run_one(scene, TakeCoverage(**asked))
    names = {figure.id: figure.name for figure in scene.figures}
    made = new.cameras[len(scene.cameras) :]
    Path(args.out).write_text(write_scene(new), encoding="utf-8")
    say(
        [
            {
                "letter": camera.letter, "kind": one.kind, "of": [names[id_] for id_ in one.of], "size": one.size,
                "focal_mm": one.focal, "seen": round(1 - one.hidden, 4), "why": "; ".join(one.reasons),
            }
            for one, camera in zip(found, made, strict=True)
        ]
    )  # fmt: skip


def do_assemble(args: argparse.Namespace) -> None:
    """`heron assemble`."""
    scene = read(args.scene)
    by_name = {shot.name: shot.id for shot in scene.shots}
    keep = [] if args.keep is None else [name.strip() for name in args.keep.split(",")]
    if unknown := [name for name in keep if name not in by_name]:
        raise BadInput(f"There is no shot {unknown[0]}.", "Give names of shots, as --keep 020,030.")
    ids = [by_name[name] for name in keep]
    command = AssembleCut(
        wishes=Wishes(
            pace=number(args.pace, "pace", 0.9, 15),
            favour=None if args.favour is None else find_named(scene, "figures", args.favour).id,
            close=number(args.close, "closeness", 0, 1),
            reaction=number(args.reaction, "share of reaction", 0, 1),
            lead=parse_int(args.lead, "lead"),
            master=number(args.master, "length of the master", 0, 60),
        ),
        frames=None if args.frames is None else parse_frames(args.frames),
        keep=tuple(dict.fromkeys([*(shot.id for shot in staying(scene)), *ids])),
    )
    made, _ = command.worked_out(scene)
    new, said = run_one(scene, command)
    letters = {camera.id: camera.letter for camera in new.cameras}
    Path(args.out).write_text(write_scene(new), encoding="utf-8")
    say(
        {
            "cost": round(made.cost, 6), "said": said,
            "shots": [
                {
                    "name": one.shot.name, "camera": letters[one.shot.camera or ""], "cut": [one.cut_first, one.cut_last],
                    "why": chosen.why,
                }
                for one, chosen in zip(lay_out(new), made.shots, strict=True)
            ],
        }
    )  # fmt: skip
