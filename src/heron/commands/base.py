"""What a command is, and what every command shares."""

from abc import abstractmethod
from collections.abc import Iterable
from typing import Any, Self, TypeVar

from heron.errors import NotFound, Refused
from heron.model import Model
from heron.scene import Camera, Scene, find
from heron.scene.document import SINGULAR, TABLES, called
from heron.scene.shot import Shot
from heron.stage.reference import Tables

Outcome = tuple[Scene, str]
T = TypeVar("T")


class Command(Model):
    """A change, typed. `apply` is pure: a scene in, a draft and a sentence for the history out."""

    @abstractmethod
    def apply(self, scene: Scene) -> Outcome:
        """The changed scene and what was done, in a plain sentence.

        Raises:
            HeronError: it cannot be done; nothing has changed.
        """

    def signed(self, by: str, when: str) -> Self:
        """The same, done by somebody at a moment (ISO 8601), for what is kept with its author."""
        return self

    def reads(self) -> frozenset[str]:
        """Ids of things it takes a value from without changing them: stale when they were changed."""
        return frozenset()


def open_camera(scene: Scene, id_: str) -> Camera:
    """A camera that may be changed.

    Raises:
        Refused: it is locked.
    """
    camera: Camera = find(scene, "cameras", id_)
    return unlocked(camera)


def unlocked(item: T) -> T:
    """The item, if it may be changed.

    Raises:
        Refused: it is locked: a camera, a piece or a perch.
    """
    if getattr(item, "locked", False):
        name = title(item) if isinstance(item, Camera) else capital(called(item))
        field = "camera" if isinstance(item, Camera) else "thing"
        raise Refused(f"{name} is locked.", "Unlock it on its card first.", field=field)
    return item


def find_any(scene: Scene, id_: str, tables: Iterable[Tables] = TABLES) -> tuple[Tables, Any]:
    """(its table, the item) with an id.

    Raises:
        NotFound: it is in none of the tables.
    """
    for table in tables:
        for item in getattr(scene, table):
            if item.id == id_:
                return table, item
    kinds = [SINGULAR[t] for t in tables]
    what = f"no {' or '.join(kinds)}" if len(kinds) <= 4 else "nothing called"
    raise NotFound(
        f"There is {what} {id_} in this scene.",
        "It may have been deleted; choose another.",
        field="thing",
    )


def title(camera: Camera) -> str:
    """How a camera is called in sentences."""
    return f"Camera {camera.letter} “{camera.name}”"


def listed(names: list[str]) -> str:
    """Names as a person would list them: `a, b and c`."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def all_called(items: list[Any]) -> str:
    """Several things as a person would list them: `camera A and B and Bram`."""
    parts = []
    letters = sorted(item.letter for item in items if isinstance(item, Camera))
    if letters:
        parts.append(f"camera {listed(letters)}")
    shots = [item.name for item in items if isinstance(item, Shot)]
    if shots:
        parts.append(f"shot {listed(shots)}")
    parts += [called(item) for item in items if not isinstance(item, Camera | Shot)]
    return listed(parts)


def capital(sentence: str) -> str:
    """A sentence's first letter as it begins one."""
    return sentence[:1].upper() + sentence[1:]


def copy_name(name: str, taken: set[str], *, says: bool = False) -> str:
    """A name for a copy: with the next free number; or one that `says` what it is, `Close on Odile, copy`."""
    stem = name.rstrip("0123456789").rstrip() or name
    if not says:
        return free_name(stem, taken, first=2)
    low = {other.lower() for other in taken}
    stem = stem if stem.endswith(_COPY) else name
    first = f"{stem.removesuffix(_COPY)[: 80 - len(_COPY)].rstrip()}{_COPY}"
    return free_name(first, taken, first=2) if first.lower() in low else first


#: What a copy is called, behind its name.
_COPY = ", copy"


def free_name(stem: str, taken: set[str], first: int = 1) -> str:
    """The stem and the first free number behind it, of at most 80 characters."""
    low = {name.lower() for name in taken}
    number = first
    while True:
        name = f"{stem[: 79 - len(str(number))].rstrip()} {number}"
        if name.lower() not in low:
            return name
        number += 1


def unused(name: str, taken: set[str]) -> str:
    """A name as it is where nothing has it, else with the first free number from 2 on."""
    return name if name.lower() not in {one.lower() for one in taken} else free_name(name, taken, 2)


def refuse_taken(scene: Scene, table: Tables, name: str, own: str | None = None) -> None:
    """Names in a table are each used once, whatever their capitals.

    Raises:
        Refused: another thing in the table has it.
    """
    if any(item.name.lower() == name.lower() and item.id != own for item in getattr(scene, table)):
        raise Refused(
            f"There is already a {SINGULAR[table]} called {name}.", "Choose another name.", field="name"
        )
