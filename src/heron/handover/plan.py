"""Which files a hand-over writes, and what each is called."""

import posixpath
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from heron.errors import BadInput, Refused
from heron.formats.span import of_shot, whole
from heron.handover.parts import ALL, BY_NAME, REFER, Part, Recipient, Source, content_of
from heron.model import Id, Model
from heron.scene import Scene, find
from heron.scene.shot import Shot
from heron.stage.figure import Figure

#: What may stand in a pattern of names.
TOKENS = ("scene", "shot", "camera", "revision")
#: How files are called where nobody says otherwise: of a scene, and of its shots, each in a folder.
SCENE_NAMES, SHOT_NAMES = "{scene}", "{shot}/{scene}_{shot}_{camera}"
_TOKEN = re.compile(r"\{([^{}]*)\}")


class HandOverRequest(Model):
    """What is handed over, for whom, and under which names."""

    recipient: Recipient = "edit"
    #: The parts by name; none, all that the recipient is meant to have.
    parts: tuple[str, ...] | None = Field(default=None, max_length=40)
    #: What is of the stage as one, or shot by shot.
    by: Literal["scene", "shots"] = "scene"
    #: Which shots; none, all with a camera.
    shots: tuple[Id, ...] = Field(default=(), max_length=2000)
    #: Frames at each end of a shot, as far as the scene goes.
    spare: Annotated[int, Field(ge=0, le=500)] = 0
    #: The set is a file of its own, to which the stages refer (USD).
    set_apart: bool = False
    #: Names of files, with `{scene}`, `{shot}`, `{camera}` and `{revision}`; folders by `/`.
    names: Annotated[str, Field(max_length=200)] = ""


@dataclass(frozen=True)
class Planned:
    """A file, or a folder of them, that is written.

    Attributes:
        path: below where it is all put.
    """

    path: str
    part: Part
    shot: Shot | None = None
    figure: Figure | None = None


def usual_parts(source: Source, recipient: Recipient) -> list[Part]:
    """What somebody is handed unless it is said otherwise: of what is there."""
    return [
        part for part in ALL if recipient in part.recipients and part.usual and part.lacks(source) is None
    ]


def plan(source: Source, asked: HandOverRequest) -> list[Planned]:
    """The files of a hand-over in order; unless they were chosen, those that are there.

    Raises:
        BadInput: a part or a token is none, or two files would have one name.
        Refused: there is nothing to hand over.
    """
    scene, revision = source.scene, source.revision or 0
    wanted = usual_parts(source, asked.recipient)
    if asked.parts is not None:
        if unknown := [name for name in asked.parts if name not in BY_NAME]:
            raise BadInput(f"There is nothing called {unknown[0]!r:.40} to hand over.", f"There are: {', '.join(BY_NAME)}.", field="parts")  # fmt: skip
        wanted = [BY_NAME[name] for name in dict.fromkeys(asked.parts)]
    if _apart(asked, wanted) and BY_NAME["set"] not in wanted:
        wanted = [BY_NAME["set"], *wanted]
    if not wanted:
        raise BadInput("Nothing is chosen.", "Choose what is handed over.", field="parts")
    shots = [shot for shot in scene.shots if shot.camera is not None]
    if asked.shots:
        shots = [find(scene, "shots", one) for one in asked.shots]
    shots = [shot for shot in shots if shot.camera is not None]
    by_shots = asked.by == "shots" and any(part.of == "stage" for part in wanted)
    if by_shots and not shots:
        raise Refused("There is no shot with a camera.", "Add one, or hand the scene over as one.")
    out: list[Planned] = []
    for part in wanted:
        if part.of == "stage" and asked.by == "shots":
            out += [
                Planned(_named(asked.names or SHOT_NAMES, scene, revision, part, shot), part, shot)
                for shot in shots
            ]
        elif part.of == "figure":
            out += [
                Planned(_named(_flat(asked, scene), scene, revision, part, figure=one), part, figure=one)
                for one in scene.figures
            ]
        else:
            out.append(Planned(_named(_flat(asked, scene), scene, revision, part), part))
    taken: set[str] = set()
    for one in out:
        if one.path.lower() in taken:
            remedy = (
                "Put {shot} into the names."
                if one.shot is not None
                else "Give the figures names that differ."
            )
            raise BadInput(f"Two files would be called {one.path}.", remedy, field="names")
        taken.add(one.path.lower())
    return out


def _apart(asked: HandOverRequest, parts: list[Part]) -> bool:
    """Whether something refers to a set in a file of its own."""
    return asked.set_apart and any(part.name in REFER for part in parts)


def _flat(asked: HandOverRequest, scene: Scene) -> str:
    """The pattern for what is of the scene as a whole: without what is a shot's alone."""
    if asked.by == "shots":
        return SCENE_NAMES
    return asked.names or SCENE_NAMES


def _named(
    pattern: str,
    scene: Scene,
    revision: int,
    part: Part,
    shot: Shot | None = None,
    figure: Figure | None = None,
) -> str:
    known = {"scene": scene.name, "revision": f"r{revision}", "shot": "", "camera": ""}
    if shot is not None:
        camera = find(scene, "cameras", shot.camera or "")
        known |= {"shot": shot.name, "camera": camera.letter}

    def put(found: re.Match[str]) -> str:
        if found[1] not in known:
            tokens = ", ".join(f"{{{one}}}" for one in TOKENS)
            raise BadInput(
                f"{{{found[1]:.30}}} stands for nothing in a name.", f"There are: {tokens}.", field="names"
            )
        return plain(known[found[1]])

    pieces = [plain(_TOKEN.sub(put, one)).strip("_.") for one in pattern.split("/")]
    pieces = [one for one in pieces if one]
    if not pieces:
        raise BadInput(
            "The names leave nothing of a name.", "Put {scene} or {shot} into them.", field="names"
        )
    # The timeline looks for its sounds beside it by the folder's own name.
    if not part.ending:
        return "/".join([*pieces[:-1], part.tail])
    tail = [part.tail] if part.tail else []
    tail += [plain(figure.name)] if figure is not None else []
    return "/".join([*pieces[:-1], "_".join([pieces[-1], *tail])]) + part.ending


def _seen_from(path: str, other: str) -> str:
    """Where another file lies, as seen from one; both below the same folder."""
    return posixpath.join(".", posixpath.relpath(other, posixpath.dirname(path) or "."))


def plain(text: str) -> str:
    """A name of letters, digits, dots, lines and underscores, which every file system takes."""
    return re.sub(r"[^A-Za-z0-9.\-]+", "_", text)


def written(
    asked: HandOverRequest,
    source: Source,
    tell: Callable[[int, int, str], None] = lambda k, n, path: None,
) -> Iterator[tuple[str, bytes]]:
    """Every file with its content, by its path.

    Raises:
        HeronError: a part that was chosen cannot be written.
    """
    files = plan(source, asked)
    apart = next((one for one in files if one.part.name == "set" and asked.set_apart), None)
    for k, one in enumerate(files):
        tell(k, len(files), one.path)
        bake = source.span.bake
        span = whole(bake) if one.shot is None else of_shot(source.scene, one.shot, asked.spare)
        # A shot that is dressed for itself has a set of its own.
        alike = span.bake.scene.pieces == source.scene.pieces
        refers = apart is not None and one.part.name in REFER and alike
        set_at = _seen_from(one.path, apart.path) if refers and apart is not None else None
        content = content_of(one.part, replace(source, span=span, figure=one.figure, set_at=set_at))
        if isinstance(content, bytes):
            yield one.path, content
        else:
            yield from ((f"{one.path}/{name}", each) for name, each in content)
    tell(len(files), len(files), "")
