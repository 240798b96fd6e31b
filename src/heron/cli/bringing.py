"""What comes in on the command line: files looked at, and sets and props put on the stage.

The files of a scene lie beside it in a folder `files`, each under its key.
"""

import argparse
import json
import shutil
from pathlib import Path
from typing import cast

from heron.cli.scenes import ENDINGS, FILES, kept_path, read
from heron.cli.words import parse_int, say
from heron.commands.bringing import BringCharacter, BringMotion, BringProp, BringSet
from heron.commands.cameras_in import BringCameras
from heron.commands.registry import run_one
from heron.errors import BadInput
from heron.formats.bringing.cameras_in import tracks_of
from heron.formats.bringing.found import Along, Unit, Up
from heron.formats.bringing.kept import keep_character, keep_model, keep_motion
from heron.formats.bringing.motion import skeleton_of
from heron.formats.bringing.recognise import inspected, kind_of, read_found
from heron.scene import Scene, find_named, write_scene
from heron.stage.figure import Figure
from heron.timebase import parse_rate


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
    if kind in ("character", "cameras"):
        (bring_character if kind == "character" else bring_cameras)(args)
        return
    # A picture is a set of one part.
    kind = "set" if kind == "picture" else kind
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


def bring_motion(args: argparse.Namespace) -> None:
    """`heron bring` of a recorded motion: one act of a figure's body."""
    path, out = Path(args.file), Path(args.out)
    scene = read(args.scene)
    figure = _whose(scene, args.figure)
    content = path.read_bytes()
    skeleton, _ = skeleton_of(content, path.name, beside(path), args.clip)
    kept = keep_motion(skeleton, path.name, asked(args.map))
    first = scene.frames.first if args.at is None else parse_int(args.at, "frame")
    command = BringMotion(
        figure=figure.id,
        file=kept.key,
        name=path.stem[:80],
        seconds=kept.seconds,
        frame=first,
        goes=not args.stays,
    )
    after, said = run_one(scene, command)
    keep_beside(args, after, {kept.key: kept.content})
    out.write_text(write_scene(after), encoding="utf-8")
    say({"out": args.out, "file": kept.key, "said": said, "joints": kept.joints, "noticed": list(kept.said)})


def bring_character(args: argparse.Namespace) -> None:
    """`heron bring` of a character: the body of a figure that is there, or of a new one where there is none."""
    path, out = Path(args.file), Path(args.out)
    scene = read(args.scene)
    found = read_found(path.read_bytes(), path.name, beside(path))
    kept = keep_character(found, path.name, asked(args.map), cast(Unit | None, args.unit))
    figure = _whose(scene, args.figure) if scene.figures or args.figure else None
    command = BringCharacter(
        file=kept.key,
        name=path.stem[:80],
        figure=figure and figure.id,
        stature=min(max(kept.stature_m, 0.3), 4.0),
    )
    after, said = run_one(scene, command)
    keep_beside(args, after, {kept.key: kept.content})
    out.write_text(write_scene(after), encoding="utf-8")
    say({
        "out": args.out, "file": kept.key, "said": said, "joints": kept.joints, "height_m": kept.stature_m, "face": kept.face, "left_out": found.said,
        "figure": next(one.id for one in after.figures if one.character == kept.key),
    })  # fmt: skip


def bring_cameras(args: argparse.Namespace) -> None:
    """`heron bring` of cameras: their moves and lenses as keys, one on every frame, or few."""
    path, out = Path(args.file), Path(args.out)
    scene = read(args.scene)
    found = read_found(path.read_bytes(), path.name, beside(path))
    tracks = tracks_of(
        found,
        path.name,
        float(parse_rate(scene.rate)),
        cast(Unit | None, args.unit),
        cast(Up | None, args.up),
    )
    at = None if args.at is None else parse_int(args.at, "frame")
    after, said = run_one(scene, BringCameras(cameras=tuple(tracks), at=at, few=args.few))
    keep_beside(args, after, {})
    out.write_text(write_scene(after), encoding="utf-8")
    new = {one.id for one in after.cameras} - {one.id for one in scene.cameras}
    say({
        "out": args.out, "said": said,
        "cameras": [{"id": one.id, "letter": one.letter, "name": one.name} for one in after.cameras if one.id in new],
    })  # fmt: skip


def _whose(scene: Scene, name: str | None) -> Figure:
    """The figure that is meant.

    Raises:
        BadInput: there is none of that name, or there are several and none was named.
    """
    if not scene.figures:
        raise BadInput(
            "There are no figures in this scene.",
            "Put a figure on the stage first.",
            field="figure",
        )
    if name is None and len(scene.figures) > 1:
        names = ", ".join(figure.name for figure in scene.figures)
        raise BadInput("No figure was named.", f"Say --figure; there are: {names}.", field="figure")
    return scene.figures[0] if name is None else find_named(scene, "figures", name)


def asked(text: str | None) -> dict[str, str] | None:
    """What `--map` says: a figure's joints, and what each is called in the file.

    Raises:
        BadInput: it is no such list.
    """
    if text is None:
        return None
    try:
        found = json.loads(text)
    except ValueError:
        found = None
    if not isinstance(found, dict) or not all(isinstance(v, str) for v in found.values()):
        raise BadInput(
            "--map isn't a list of joints.", 'Give it as \'{"elbow_l": "LeftForeArm"}\'.', field="map"
        )
    return found


def keep_beside(args: argparse.Namespace, scene: Scene, new: dict[str, bytes]) -> None:
    """Write new files beside the scene that comes out, and take along those that it has already."""
    folder, before = Path(args.out).parent / FILES, Path(args.scene).parent / FILES
    folder.mkdir(exist_ok=True)
    for key in scene.files:
        there = kept_path(before, key)
        if key not in new and folder.resolve() != before.resolve() and there is not None:
            shutil.copyfile(there, folder / there.name)
    for key, content in new.items():
        (folder / f"{key}{ENDINGS[content[:4] != b'glTF']}").write_bytes(content)
