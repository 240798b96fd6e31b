"""What view is asked for: whom, how large, from where, with what in the frame."""

from typing import Annotated, Literal

from pydantic import Field

from heron.errors import BadInput, NotFound
from heron.framing.shot_size import SIZES
from heron.model import Id, Model
from heron.scene import Scene
from heron.scene.document import spot_called
from heron.stage.reference import OnMover, OnPiece

Way = Literal["front", "three-quarter", "profile", "behind"]
High = Literal["low", "eye level", "high"]
_WAYS: tuple[Way, ...] = ("front", "three-quarter", "profile", "behind")
_HIGH: tuple[High, ...] = ("low", "eye level", "high")
#: Words for all the people of a scene.
_ALL = ("both", "all", "everyone")


class Asked(Model):
    """A view that is asked for; nothing of it is needed.

    Attributes:
        figures: whom it is of, the first is in focus; none: whoever is on the stage.
        over: over whose shoulder; through: through whose eyes.
        thing: what else is to be in the frame.
        either_side: whether the line of action may be crossed.
    """

    figures: Annotated[tuple[Id, ...], Field(max_length=12)] = ()
    size: str | None = None
    way: Way | None = None
    high: High | None = None
    over: Id | None = None
    through: Id | None = None
    thing: OnMover | OnPiece | None = None
    either_side: bool = False


def said(scene: Scene, name: str, wish: object) -> str:
    """A wish in words, as `read_asked` reads it."""
    names = {figure.id: figure.name for figure in scene.figures}
    if name == "over":
        return f"over {names[str(wish)]}"
    if name == "through":
        return f"through {names[str(wish)]}'s eyes"
    return f"with {spot_called(scene, wish)}" if isinstance(wish, OnMover | OnPiece) else str(wish)


def read_asked(scene: Scene, words: str) -> Asked:
    """A view in words: parts by semicolons, names by commas, as `Odile; medium; over Bram`.

    Raises:
        BadInput: two parts of one kind, or too many people; NotFound: it names nothing.
    """
    found: dict[str, object] = {}

    def take(name: str, value: object, part: str) -> None:
        if name in found:
            raise BadInput(
                f"“{part}” says again what was said.", "Give each part of a view once.", field="ask"
            )
        found[name] = value

    for part in (one.strip() for one in words.split(";")):
        low = part.lower()
        if not part:
            continue
        if low in SIZES:
            take("size", low, part)
        elif low in _WAYS:
            take("way", low, part)
        elif low in _HIGH:
            take("high", low, part)
        elif low == "either side":
            take("either_side", True, part)
        elif low.startswith("over "):
            take("over", _person(scene, part[5:].removesuffix("'s shoulder")), part)
        elif low.startswith("through ") and low.endswith("'s eyes"):
            take("through", _person(scene, part[8:-7]), part)
        elif low.startswith("with "):
            take("thing", _thing(scene, part[5:]), part)
        elif low in _ALL:
            take("figures", tuple(one.id for one in scene.visible.figures), part)
        else:
            take("figures", tuple(_person(scene, name) for name in part.split(",")), part)
    return checked(scene, Asked.model_validate(found))


def checked(scene: Scene, asked: Asked) -> Asked:
    """It, if it can be looked for.

    Raises:
        BadInput, NotFound: it names somebody twice, or who is not there; or two ways of looking.
    """
    there = {figure.id: figure for figure in scene.visible.figures}
    for id_ in (*asked.figures, asked.over, asked.through):
        if id_ is not None and id_ not in there:
            raise NotFound(
                "Somebody who was named is not on the stage.", "Name figures that are shown.", field="ask"
            )
    if len(set(asked.figures)) < len(asked.figures) or {asked.over, asked.through} & set(asked.figures):
        raise BadInput("Somebody is named twice.", "Name each once: who is seen, and over whom.", field="ask")
    if asked.over and asked.through:
        raise BadInput(
            "A view is over a shoulder or through somebody's eyes.", "Leave one of them out.", field="ask"
        )
    if asked.size is not None and asked.size not in SIZES:
        raise BadInput(
            f"{asked.size!r:.40} is no size of a shot.", f"Use one of {', '.join(SIZES)}.", field="ask"
        )
    if not there:
        raise BadInput("Nobody is on the stage.", "Add a figure, then look for views of them.", field="ask")
    if (asked.over or asked.through) and len(there) < 2:
        raise BadInput("There is nobody else to see.", "Add a second figure.", field="ask")
    return asked


def _person(scene: Scene, name: str) -> str:
    low = name.strip().lower()
    for figure in scene.visible.figures:
        if low in (figure.name.lower(), figure.id.lower()):
            return figure.id
    names = ", ".join(figure.name for figure in scene.visible.figures)
    raise NotFound(
        f"“{name.strip():.40}” is nobody on the stage, no size and no way of looking.",
        f"Name {names or 'a figure'}, a size as medium, or from where: {', '.join((*_WAYS, *_HIGH))}, over NAME, through NAME's eyes.",
        field="ask",
    )


def _thing(scene: Scene, name: str) -> OnMover | OnPiece:
    low = name.strip().lower()
    for mover in scene.visible.movers:
        if low in (mover.name.lower(), mover.id.lower()):
            return OnMover(mover=mover.id)
    for piece in scene.visible.pieces:
        if low in (piece.name.lower(), piece.id.lower()):
            return OnPiece(piece=piece.id)
    raise NotFound(
        f"There is no “{name.strip():.40}” on the stage.",
        "Name a mover or a set piece that is shown.",
        field="ask",
    )
