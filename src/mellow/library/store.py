"""The files themselves, in the media folder by the SHA-256 of their content.

media/files/ab/abcd….kept      a set, a prop or a motion as it is kept
media/files/ab/abcd….came      a file as it came
"""

import contextlib
import hashlib
import re
from pathlib import Path

from django.conf import settings

from heron.errors import NotFound
from mellow.keeping import write

_KEY = re.compile(r"[0-9a-f]{64}")


def path_of(key: str, ending: str = ".kept") -> Path:
    """Where a file is kept.

    Raises:
        NotFound: that is no key.
    """
    if not _KEY.fullmatch(key):
        raise NotFound("That file isn't in the library.", "Choose one of the list.")
    return Path(settings.MEDIA) / "files" / key[:2] / f"{key}{ending}"


def keep(content: bytes, ending: str = ".kept") -> str:
    """Keep a file; the same content, the same key.

    Raises:
        NotWritten: the folder cannot take it.
    """
    key = hashlib.sha256(content).hexdigest()
    there = path_of(key, ending)
    if not (there.exists() and there.stat().st_size == len(content)):
        write(there, content, "The file")
    return key


def content_of(key: str) -> bytes | None:
    """A kept file; None where it is not here, or is not what its key says."""
    try:
        content = path_of(key).read_bytes()
    except (OSError, NotFound):
        return None
    return content if hashlib.sha256(content).hexdigest() == key else None


def drop(key: str, ending: str = ".kept") -> int:
    """Delete a file; how many bytes that freed."""
    there = path_of(key, ending)
    with contextlib.suppress(OSError):
        size = there.stat().st_size
        there.unlink()
        return size
    return 0
