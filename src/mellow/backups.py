"""Everything a desk keeps in one file: the database as it is at a moment, what takes handed over, and what was brought in."""

import os
import sqlite3
import tempfile
import zipfile
from pathlib import Path

from django.conf import settings

from heron.errors import BadInput
from mellow.keeping import write

_DATABASE, _MARK = "heron.sqlite3", "mellow-heron-backup.txt"
#: What of the media folder is kept: what takes handed over, and what was brought in.
_FOLDERS = ("takes", "files")
_FORMAT = "mellow-heron-backup 1\n"
#: Pages copied at a time, so that a desk that works meanwhile is not held up.
_PAGES = 512


def write_backup(path: Path) -> None:
    """Write a backup; the desk may go on working meanwhile.

    Kept pictures are left out: they are drawn again when they are needed.
    """
    making = path.with_name(f".{path.name}.making")
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / _DATABASE
        _copy(_database(), copy)
        with zipfile.ZipFile(making, "w", zipfile.ZIP_DEFLATED) as out:
            out.writestr(_MARK, _FORMAT)
            out.write(copy, _DATABASE)
            for name in _FOLDERS:
                root = Path(settings.MEDIA) / name
                for one in sorted(root.rglob("*")) if root.exists() else ():
                    if one.is_file() and not any(
                        part.startswith(".") for part in one.relative_to(root).parts
                    ):
                        # Movies and pictures are packed already.
                        out.write(one, f"{name}/{one.relative_to(root)}", zipfile.ZIP_STORED)
    os.replace(making, path)


def read_backup(path: Path) -> None:
    """Put a backup in place of all that a desk keeps; a desk that runs shows it from its next answer on.

    Raises:
        BadInput: it is not a backup.
    """
    try:
        with zipfile.ZipFile(path) as found, tempfile.TemporaryDirectory() as folder:
            if found.read(_MARK).decode() != _FORMAT:
                raise KeyError(_MARK)
            copy = Path(found.extract(_DATABASE, folder))
            _check(copy)
            _copy(copy, _database())
            _move_on()
            for name in found.namelist():
                target = Path(settings.MEDIA) / name
                folders = [(Path(settings.MEDIA) / one).resolve() for one in _FOLDERS]
                if any(target.resolve().is_relative_to(one) for one in folders) and not name.endswith("/"):
                    write(target, found.read(name), "A file of the backup")
    except (OSError, KeyError, zipfile.BadZipFile, sqlite3.DatabaseError, UnicodeDecodeError):
        raise BadInput(
            f"{path.name} is not a backup of a desk.", "Give a file that manage.py backup wrote."
        ) from None


def _database() -> Path:
    return Path(str(settings.DATABASES["default"]["NAME"]))


def _copy(source: Path, target: Path) -> None:
    """One database over another, by SQLite's own online backup."""
    one, other = sqlite3.connect(source, timeout=30), sqlite3.connect(target, timeout=30)
    try:
        one.backup(other, pages=_PAGES)
    finally:
        one.close()
        other.close()


def _check(path: Path) -> None:
    database = sqlite3.connect(path)
    try:
        (said,) = database.execute("PRAGMA integrity_check").fetchone()
        database.execute("SELECT COUNT(*) FROM productions_scene")
    finally:
        database.close()
    if said != "ok":
        raise sqlite3.DatabaseError(said)


def _move_on() -> None:
    """Raise every scene's revision, so that a desk that runs does not take what it remembers for what is stored."""
    from django.db.models import F

    from mellow.productions.models import Scene

    Scene.objects.update(revision=F("revision") + _AHEAD)


#: More changes than anybody makes between a backup and its return.
_AHEAD = 100_000
