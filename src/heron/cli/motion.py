"""A camera's move on the command line: its hitches, and their mends."""

import argparse
from pathlib import Path
from typing import Any

from heron.bake import Bake
from heron.cli.rigs import subject
from heron.cli.scenes import read
from heron.cli.words import say
from heron.commands.mends import mended_by
from heron.errors import HeronError
from heron.motion.found import found_in
from heron.motion.hitches import Hitch
from heron.scene import Camera, write_scene
from heron.scene.lookup import find, find_named, validate_scene

#: A mend may bring another hitch to light; more than this no move has.
_ROUNDS = 40


def _told(hit: Hitch) -> dict[str, Any]:
    return {
        "first": hit.first, "last": hit.last, "kind": hit.kind, "measure": hit.measure,
        "severity": round(hit.severity, 4), "sentence": hit.sentence,
    }  # fmt: skip


def do_hitches(args: argparse.Namespace) -> None:
    """`heron hitches`."""
    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)
    say([_told(hit) for hit in found_in(Bake(scene), camera, subject(scene, args.subject))])


def do_mend(args: argparse.Namespace) -> None:
    """`heron mend`: every proposal is taken; what could not be mended is listed with the reason."""
    scene = read(args.scene)
    camera: Camera = find_named(scene, "cameras", args.camera)
    spot = subject(scene, args.subject)
    done: list[dict[str, Any]] = []
    left: list[Hitch] = []
    for _ in range(_ROUNDS):
        now = find(scene, "cameras", camera.id)
        hit = next((h for h in found_in(Bake(scene), now, spot) if h not in left), None)
        if hit is None:
            break
        try:
            scene, sentence = mended_by(scene, now, spot, hit)
            scene = validate_scene(scene)
            done.append({**_told(hit), "mend": sentence})
        except HeronError as error:
            left.append(hit)
            done.append({**_told(hit), "mend": None, "reason": error.reason})
    Path(args.out).write_text(write_scene(scene), encoding="utf-8")
    say(done)
