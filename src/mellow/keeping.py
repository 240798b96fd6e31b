"""Files written whole or not at all."""

import contextlib
import errno
import os
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from mellow.problems import NotWritten

_WHY = {
    errno.ENOSPC: ("the disk is full", "Make room on it, or clear cached frames, then continue."),
    errno.EDQUOT: ("the disk is full", "Make room on it, or clear cached frames, then continue."),
    errno.EACCES: ("the media folder cannot be written", "Allow the server to write to it, then continue."),
    errno.EROFS: ("the media folder cannot be written", "Allow the server to write to it, then continue."),
    errno.ENOTDIR: ("the media folder cannot be written", "Make it a folder, then continue."),
}  # fmt: skip


@contextmanager
def writing(what: str) -> Iterator[None]:
    """Say in a sentence why a file could not be written.

    Raises:
        NotWritten: with the reason and the remedy.
    """
    try:
        yield
    except OSError as error:
        why, remedy = _WHY.get(
            error.errno or 0, ("the disk did not answer", "Check the disk, then continue.")
        )
        raise NotWritten(f"{what} was not saved: {why}.", remedy) from error


def write(path: Path, content: bytes, what: str) -> None:
    """Write a file whole, or not at all.

    Raises:
        NotWritten: the folder cannot take it.
    """
    making = path.with_name(f".{path.name}.{uuid.uuid4().hex[:8]}")
    with writing(what):
        path.parent.mkdir(parents=True, exist_ok=True)
        try:
            with making.open("wb") as file:
                file.write(content)
                file.flush()
                # On the disk before it has a name: a power cut leaves no empty file under it.
                os.fsync(file.fileno())
            making.replace(path)
        except OSError:
            with contextlib.suppress(OSError):
                making.unlink(missing_ok=True)
            raise
