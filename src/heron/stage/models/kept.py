"""Where files that were brought in are found: by the hash of their content, wherever this process keeps them.

A key says what the content is, so that everything computed from it is the same everywhere; where a file lies is for
whoever runs the core to say.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any, TypeVar

from heron.errors import BadInput
from heron.stage.models.part import ModelFile, Part, read_model

R = TypeVar("R")
#: So many files stay read.
_KEEP = 16
_LOCK = threading.Lock()
_READ: OrderedDict[tuple[str, str], Any] = OrderedDict()
_find: Callable[[str], bytes | None] = lambda key: None  # noqa: E731


def find_files(find: Callable[[str], bytes | None]) -> None:
    """Say how a file is found by its key; None where it is not here."""
    global _find
    with _LOCK:
        _find = find
        _READ.clear()


def kept(key: str, read: Callable[[bytes], R]) -> R | None:
    """What stands in a file; None where it is not here or cannot be read."""
    name = (key, read.__name__)
    with _LOCK:
        if name in _READ:
            _READ.move_to_end(name)
            found: R = _READ[name]
            return found
    content = _find(key)
    if content is None:
        return None
    try:
        found = read(content)
    except (BadInput, KeyError, IndexError, TypeError, ValueError):
        return None
    with _LOCK:
        _READ[name] = found
        while len(_READ) > _KEEP:
            _READ.popitem(last=False)
    return found


def model_of(key: str) -> ModelFile | None:
    """The parts of a set or a prop; None where its file is not here or cannot be read."""
    return kept(key, read_model)


def part_of(key: str, part: int) -> Part | None:
    """One part of a file; None where the file is not here or has fewer."""
    found = model_of(key)
    return found.parts[part] if found is not None and part < len(found.parts) else None
