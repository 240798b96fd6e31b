"""Files of renders, in one folder: pictures by the name of all they depend on, and what is packed of each take.

    media/pictures/ab/abcd….png    a frame as it was drawn, nothing written on it
    media/pictures/ab/abcd….jpg    its proof: small, for looking at on the desk
    media/takes/12/                what take 12 handed over

Everything is written under another name first and then given its own, so that nothing half-written has a name.
"""

import contextlib
import io
import os
import re
import shutil
import time
from collections.abc import Iterable
from pathlib import Path

from django.conf import settings
from PIL import Image

from heron.errors import BadInput, NotFound
from mellow.keeping import write as write
from mellow.keeping import writing as writing
from mellow.pictures import looks_whole, png_size, read_png

_KEY = re.compile(r"[0-9a-f]{32}")
#: Proofs are at most this wide; JPEG of a quality at which nobody minds. Both ours.
PROOF_WIDE, PROOF_QUALITY = 960, 86
#: What was being written that long ago and still has no name of its own never will.
_LEFT_S = 3600


def picture(key: str) -> Path:
    """Where a frame's picture is kept.

    Raises:
        NotFound: that is not the name of a picture.
    """
    if not _KEY.fullmatch(key):
        raise NotFound("That is not a picture of a render.", "Choose a frame of a take.")
    return Path(settings.MEDIA) / "pictures" / key[:2] / f"{key}.png"


def proof(key: str) -> Path:
    """Where its proof is kept."""
    return picture(key).with_suffix(".jpg")


def folder(take: int) -> Path:
    """What a take handed over."""
    return Path(settings.MEDIA) / "takes" / str(take)


def listed(keys: Iterable[str]) -> set[str]:
    """Those of some keys that have a picture, by the folders' lists: quick, and without looking whether it is whole."""
    wanted = set(keys)
    names: set[str] = set()
    for start in {key[:2] for key in wanted}:
        with contextlib.suppress(OSError):
            names.update(os.listdir(Path(settings.MEDIA) / "pictures" / start))
    return {key for key in wanted if f"{key}.png" in names}


def there(key: str) -> bool:
    """Whether a picture is kept whole; if so it counts as used now. One that is not is taken away."""
    found = picture(key)
    if not (looks_whole(found) and looks_whole(proof(key))):
        spoil(key)
        return False
    with contextlib.suppress(OSError):
        os.utime(found)
    return True


def keep(key: str, content: bytes, wide: int, high: int) -> None:
    """Keep a frame's picture, and its proof.

    Raises:
        BadInput: it is not a PNG of that size.
        NotWritten: the folder cannot take it.
    """
    size = png_size(content)
    if size != (wide, high):
        raise BadInput(f"The picture is {size[0]} × {size[1]}, not {wide} × {high}.", "Draw it again.")
    seen = read_png(content)
    if seen.width > PROOF_WIDE:
        seen = seen.resize((PROOF_WIDE, max(round(high * PROOF_WIDE / wide), 1)), Image.Resampling.LANCZOS)
    small = io.BytesIO()
    seen.save(small, "JPEG", quality=PROOF_QUALITY, subsampling=0)
    # The picture comes last: where it is, all is.
    write(proof(key), small.getvalue(), "The picture")
    write(picture(key), content, "The picture")


def spoil(key: str) -> None:
    """Take away a kept picture that is bad, so that it is drawn again."""
    for bad in (picture(key), proof(key)):
        with contextlib.suppress(OSError):
            bad.unlink()


def drop_unfinished(take: int) -> None:
    """Take away what a packer that was killed left of a take."""
    for left in (Path(settings.MEDIA) / "takes").glob(f".making-{take}-*"):
        shutil.rmtree(left, ignore_errors=True)


def drop(take: int) -> None:
    """Take away what a take handed over."""
    shutil.rmtree(folder(take), ignore_errors=True)


def used() -> tuple[int, int]:
    """Bytes of kept pictures with their proofs, and of what takes handed over."""
    root = Path(settings.MEDIA)
    return _size(root / "pictures"), _size(root / "takes")


def _size(root: Path) -> int:
    return sum(one.stat().st_size for one in root.rglob("*") if one.is_file()) if root.exists() else 0


def trim(bound: int, wanted: set[str], shown: set[str]) -> int:
    """Delete the least recently used pictures, until what is kept fits a bound.

    Args:
        wanted: keys that a render under way still needs.
        shown: keys whose proofs a take still shows: those stay, and their pictures go.

    Returns:
        How many bytes that freed.
    """
    over = sum(used()) - bound
    freed = 0
    root = Path(settings.MEDIA) / "pictures"
    for found in sorted(root.rglob("*.png"), key=lambda one: one.stat().st_mtime) if over > 0 else ():
        if freed >= over:
            break
        if found.stem in wanted or found.name.startswith("."):
            continue
        freed += _gone(found)
        if found.stem not in shown:
            freed += _gone(found.with_suffix(".jpg"))
    return freed


def clear(wanted: set[str], shown: set[str]) -> int:
    """Delete every cached picture that nothing under way needs. How many bytes that freed."""
    freed = 0
    root = Path(settings.MEDIA) / "pictures"
    for found in root.rglob("*.png"):
        if found.stem not in wanted:
            freed += _gone(found)
    for found in root.rglob("*.jpg"):
        if found.stem not in shown and found.stem not in wanted:
            freed += _gone(found)
    long_ago = time.time() - _LEFT_S
    for left in (*root.rglob(".*"), *(Path(settings.MEDIA) / "takes").glob(".*")):
        with contextlib.suppress(OSError):
            if left.stat().st_mtime > long_ago:
                continue
        if left.is_dir():
            shutil.rmtree(left, ignore_errors=True)
        else:
            freed += _gone(left)
    return freed


def _gone(path: Path) -> int:
    try:
        size = path.stat().st_size
        path.unlink()
    except OSError:
        return 0
    return size
