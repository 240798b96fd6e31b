"""What goes out on the command line: one file of a scene or of a shot, and whole scenes as packages."""

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from heron.bake import Bake
from heron.cli.scenes import ENDINGS, FILES, kept_path, read
from heron.cli.words import say
from heron.errors import BadInput
from heron.formats.span import of_shot, whole
from heron.handover.package import FOLDERS, read_package, write_package
from heron.handover.parts import BY_NAME, Source, content_of
from heron.scene import find_named, write_scene


def do_export(args: argparse.Namespace) -> None:
    """`heron export`."""
    scene, out = read(args.scene), Path(args.out)
    # The text form of USD is asked for by its ending.
    part = BY_NAME["usda" if args.to == "usd" and out.suffix.lower() == ".usda" else args.to]
    if args.shot is not None and part.of != "stage":
        raise BadInput(f"{part.label} is of the whole scene.", "Leave --shot out.", field="shot")
    span = whole(Bake(scene)) if args.shot is None else of_shot(scene, find_named(scene, "shots", args.shot))
    figure = None
    if part.of == "figure":
        if args.figure is None and len(scene.figures) != 1:
            names = ", ".join(figure.name for figure in scene.figures) or "none"
            raise BadInput("No figure was named.", f"Say --figure; there are: {names}.", field="figure")
        figure = scene.figures[0] if args.figure is None else find_named(scene, "figures", args.figure)
    find = found_beside(Path(args.scene).parent)
    content = content_of(part, Source(span, figure=figure, package=lambda: write_package(scene, find)))
    assert isinstance(content, bytes)
    out.write_bytes(content)
    said: dict[str, Any] = {"out": args.out, "bytes": len(content)}
    if args.to == "package":
        said["lost"] = list(read_package(content).lost)
    say(said)


def found_beside(folder: Path) -> Callable[[str, str], bytes | None]:
    """The files of a scene that lie beside it, by their folder and key."""

    def found(where: str, key: str) -> bytes | None:
        there = (
            kept_path(folder / FILES, key) if where == FILES else folder / where / f"{key}{FOLDERS[where]}"
        )
        return there.read_bytes() if there is not None and there.is_file() else None

    return found


def do_unpack(args: argparse.Namespace) -> None:
    """`heron unpack`."""
    path, out = Path(args.package), Path(args.out)
    package = read_package(path.read_bytes(), path.name)
    for folder, ending in FOLDERS.items():
        files: dict[str, bytes] = getattr(package, folder)
        for key, content in files.items():
            named = f"{key}{ENDINGS[content[:4] != b'glTF']}" if folder == FILES else f"{key}{ending}"
            (out.parent / folder).mkdir(parents=True, exist_ok=True)
            (out.parent / folder / named).write_bytes(content)
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(write_scene(package.scene), encoding="utf-8")
    count = sum(len(getattr(package, one)) for one in FOLDERS)
    say({"out": args.out, "scene": package.scene.name, "files": count, "lost": list(package.lost)})
