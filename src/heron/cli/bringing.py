"""What comes in on the command line: files looked at, and sets and props put on the stage.

The files of a scene lie beside it in a folder `files`, each under its key.
"""

import argparse
import shutil
from pathlib import Path
from typing import cast

from heron.cli.scenes import FILES, read
from heron.cli.words import say
from heron.commands.bringing import BringProp, BringSet
from heron.commands.registry import run_one
from heron.errors import BadInput
from heron.formats.bringing.found import Along, Unit, Up
from heron.formats.bringing.kept import keep_model
from heron.formats.bringing.recognise import inspected, kind_of, read_found
from heron.scene import Scene, write_scene


def beside(path: Path) -> Along:
    """Files that another one names, where they lie beside it or below."""

    def along(name: str) -> bytes | None:
        there = (path.parent / name).resolve()
        return there.read_bytes() if there.is_relative_to(path.parent.resolve()) and there.is_file() else None

    return along


def do_inspect(args: argparse.Namespace) -> None:
    """`heron inspect`."""
    path = Path(args.file)
    say(inspected(path.read_bytes(), path.name, beside(path)))


def bring_model(args: argparse.Namespace) -> None:
    """`heron bring` of a set or a prop."""
    path, out = Path(args.file), Path(args.out)
    scene = read(args.scene)
    found = read_found(path.read_bytes(), path.name, beside(path))
    kind = args.as_ or kind_of(found)
    if kind not in ("set", "prop"):
        raise BadInput(
            f"{path.name} holds {kind}, which is not put up as a set.",
            "Say --as set or --as prop.",
            field="as",
        )
    kept = keep_model(found, path.name, cast(Unit | None, args.unit), cast(Up | None, args.up))
    command = (BringSet if kind == "set" else BringProp)(name=path.stem[:80], file=kept.key, parts=kept.parts)
    after, said = run_one(scene, command)
    keep_beside(args, after, {kept.key: kept.content})
    out.write_text(write_scene(after), encoding="utf-8")
    new = {one.id for one in after.pieces} - {one.id for one in scene.pieces}
    say({
        "out": args.out, "file": kept.key, "said": said, "height_m": kept.height_m, "left_out": found.said,
        "pieces": [{"id": one.id, "name": one.name} for one in after.pieces if one.id in new],
    })  # fmt: skip


def keep_beside(args: argparse.Namespace, scene: Scene, new: dict[str, bytes]) -> None:
    """Write new files beside the scene that comes out, and take along those that it has already."""
    folder, before = Path(args.out).parent / FILES, Path(args.scene).parent / FILES
    folder.mkdir(exist_ok=True)
    for key in scene.files:
        there = before / f"{key}.glb"
        if key not in new and folder.resolve() != before.resolve() and there.exists():
            shutil.copyfile(there, folder / there.name)
    for key, content in new.items():
        (folder / f"{key}.glb").write_bytes(content)
