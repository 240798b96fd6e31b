"""A scene with everything it is made of, in one file: a zip of the document, its files, and their checksums."""

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field

from heron.errors import BadInput
from heron.scene import Scene, read_scene, write_scene

_MARK, _SCENE = "manifest.json", "scene.json"
_FORMAT = "heron-package"
#: The folders of a package, and how the files in each end.
FOLDERS = {"files": "", "sounds": ".flac", "boards": ".jpg"}
_KEY = re.compile(r"[0-9a-f]{16,64}")
#: Bytes that a package may unpack to, and files in it; ours.
_MOST_BYTES, _MOST_FILES = 4 * 2**30, 20_000
_AGAIN = "Hand the scene over as a package again."


@dataclass(frozen=True)
class Package:
    """A scene and the content of its files by their keys.

    Attributes:
        lost: names of files that were not there when it was made.
    """

    scene: Scene
    files: dict[str, bytes] = field(default_factory=dict)
    sounds: dict[str, bytes] = field(default_factory=dict)
    boards: dict[str, bytes] = field(default_factory=dict)
    lost: tuple[str, ...] = ()


def keys_of(scene: Scene) -> dict[str, tuple[str, ...]]:
    """The keys of all that a scene is made of, by folder."""
    tries = [shot.board for shot in scene.shots if shot.board]
    return {
        "files": scene.files,
        "sounds": tuple(dict.fromkeys(key for one in scene.sounds for key in sorted(one.files))),
        "boards": tuple(dict.fromkeys(tries)),
    }


def write_package(scene: Scene, find: Callable[[str, str], bytes | None]) -> bytes:
    """A package; the same scene and files, the same bytes.

    Args:
        find: the content of a file, by its folder and key; None where it is not here.
    """
    out = io.BytesIO()
    said: dict[str, dict[str, object]] = {}
    lost: list[str] = []
    with zipfile.ZipFile(out, "w") as sheet:

        def put(name: str, content: bytes, packed: bool) -> None:
            entry = zipfile.ZipInfo(name)
            entry.compress_type = zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED
            sheet.writestr(entry, content)
            said[name] = {"sha256": hashlib.sha256(content).hexdigest(), "bytes": len(content)}

        put(_SCENE, write_scene(scene).encode(), False)
        for folder, keys in keys_of(scene).items():
            for key in keys:
                content = find(folder, key)
                name = f"{folder}/{key}{FOLDERS[folder]}"
                if content is None:
                    lost.append(name)
                else:
                    put(name, content, folder != "files")
        told = {"format": _FORMAT, "version": 1, "scene": scene.name, "files": said, "lost": lost}
        sheet.writestr(zipfile.ZipInfo(_MARK), json.dumps(told, indent=1))
    return out.getvalue()


def read_package(content: bytes, name: str = "The package") -> Package:
    """A package as `write_package` writes it; nothing in it is unpacked anywhere.

    Raises:
        BadInput: it is none, is damaged, or is too large.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as sheet:
            entries = sheet.infolist()
            if len(entries) > _MOST_FILES or sum(one.file_size for one in entries) > _MOST_BYTES:
                raise BadInput(
                    f"{name} unpacks to more than {_MOST_BYTES // 2**30} GB.", "Hand over a smaller scene."
                )
            told = json.loads(_read(sheet, _MARK))
            if told["format"] != _FORMAT or not isinstance(told["files"], dict):
                raise KeyError(_MARK)
            if told["version"] != 1:
                raise BadInput(f"{name} was written by a newer version.", "Bring the desk up to date.")
            found: dict[str, dict[str, bytes]] = {folder: {} for folder in FOLDERS}
            for path, said in told["files"].items():
                each = _read(sheet, path)
                if hashlib.sha256(each).hexdigest() != said["sha256"]:
                    raise BadInput(f"{name} is damaged: {path:.80} is not what it was.", _AGAIN)
                folder, _, key = path.partition("/")
                key = key.removesuffix(FOLDERS.get(folder, "") or "/")
                if folder in FOLDERS and _KEY.fullmatch(key):
                    found[folder][key] = each
                elif path != _SCENE:
                    raise BadInput(f"{name} holds {path!r:.80}, which no scene is made of.", _AGAIN)
            scene = read_scene(_read(sheet, _SCENE).decode())
            lost = tuple(str(one) for one in told.get("lost", []))
            return Package(scene, found["files"], found["sounds"], found["boards"], lost)
    except (
        zipfile.BadZipFile,
        KeyError,
        TypeError,
        AttributeError,
        ValueError,
        OSError,
        EOFError,
        RuntimeError,
        NotImplementedError,
    ) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput(
            f"{name} is not a package of a scene.", "Give a .zip that was handed over as a whole scene."
        ) from None


def _read(sheet: zipfile.ZipFile, path: str) -> bytes:
    """One file of a zip, up to the size it claims.

    Raises:
        BadInput: it holds more.
    """
    entry = sheet.getinfo(path)
    with sheet.open(entry) as opened:
        content = opened.read(entry.file_size + 1)
    if len(content) > entry.file_size:
        raise BadInput(f"{path:.80} holds more than it says.", _AGAIN)
    return content
