"""Commands that put on the stage what was brought in, and change which file it is of."""

from typing import Annotated, Literal

from pydantic import Field

from heron.commands.acts import AddAct
from heron.commands.base import Command, Outcome, unlocked, unused
from heron.commands.figures import AddFigure
from heron.commands.moving_parts import MakeMover
from heron.errors import Refused
from heron.model import FileKey, Id, Label, Metres, Model, Name, Size, changed, new_id
from heron.scene import Scene, find, replace
from heron.stage.acts.body import Recorded
from heron.stage.figure import Figure
from heron.stage.floors import support
from heron.stage.piece import FromFile, Piece
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber

#: What was brought in is white times its own colours.
OWN_COLOUR = "#ffffff"


class PartIn(Model):
    """A part of a file: its place in it, its name, and the box that holds it in the file's own frame, metres."""

    part: Annotated[int, Field(ge=0, le=9999)]
    name: Name
    x: Metres
    base: Metres
    z: Metres
    width: Size
    height: Size
    depth: Size


class _Bring(Command):
    """What a set and a prop have alike: the file, and the parts that are put on the stage."""

    name: Name
    file: FileKey
    parts: tuple[PartIn, ...] = Field(min_length=1, max_length=200)
    x: Metres = 0.0
    z: Metres = 0.0


class BringSet(_Bring):
    """Put a set on the stage, a piece for each of its parts, grouped by its name; it keeps its origin unless a place is given."""

    kind: Literal["set.bring"] = "set.bring"
    #: How the ids of its pieces begin.
    id: Id = Field(default_factory=lambda: new_id("set"))

    def apply(self, scene: Scene) -> Outcome:
        group = unused(self.name, {p.group for p in scene.pieces})
        pieces = _pieces(scene, self.id, self.file, self.parts, (self.x, 0.0, self.z), group)
        what = "1 part" if len(pieces) == 1 else f"{len(pieces)} parts"
        return scene.having(pieces=(*scene.pieces, *pieces)), f"Brought in {group}, {what}"


class BringProp(_Bring):
    """Put a prop on the stage as one movable thing, its middle on what lies under a place."""

    kind: Literal["prop.bring"] = "prop.bring"
    id: Id = Field(default_factory=lambda: new_id("mov"))

    def apply(self, scene: Scene) -> Outcome:
        low_x, high_x = min(p.x - p.width / 2 for p in self.parts), max(p.x + p.width / 2 for p in self.parts)
        low_z, high_z = min(p.z - p.depth / 2 for p in self.parts), max(p.z + p.depth / 2 for p in self.parts)
        foot = support(tuple(p for p in scene.pieces if p.part_of is None), self.x, self.z)
        base = foot - min(p.base for p in self.parts)
        name = unused(self.name, {m.name for m in scene.movers})
        group = unused(self.name, {p.group for p in scene.pieces})
        foot_at = (self.x - (low_x + high_x) / 2, base, self.z - (low_z + high_z) / 2)
        pieces = _pieces(scene, new_part_id(self.id), self.file, self.parts, foot_at, group)
        standing = scene.having(pieces=(*scene.pieces, *pieces))
        after, _ = MakeMover(id=self.id, ids=tuple(p.id for p in pieces), name=name).apply(standing)
        return after, f"Brought in {name}"


class BringCharacter(Command):
    """Give a figure the body of a character, or put a new figure with that body on the stage.

    A figure that is there keeps its name, its stature and all that it does.
    """

    kind: Literal["character.bring"] = "character.bring"
    file: FileKey
    name: Name
    #: Whose body it becomes; none, a new figure's.
    figure: Id | None = None
    #: Of a new figure: its id, its stature as the file has it, and where it stands.
    id: Id = Field(default_factory=lambda: new_id("fig"))
    stature: float = Field(default=1.7, ge=0.3, le=4.0)
    x: Metres = 0.0
    z: Metres = 0.0

    def apply(self, scene: Scene) -> Outcome:
        who = self.figure
        if who is None:
            name = unused(self.name, {one.name for one in scene.figures})
            scene, _ = AddFigure(id=self.id, name=name, stature=self.stature, x=self.x, z=self.z).apply(scene)
            who = self.id
        figure: Figure = find(scene, "figures", who)
        if figure.character == self.file:
            raise Refused(f"{figure.name} has that body already.", "Choose another character.", field="file")
        said = (
            f"Put {figure.name} on the stage"
            if self.figure is None
            else f"{figure.name} has the body of {self.name}"
        )
        return replace(scene, "figures", changed(figure, character=self.file)), said


class LeaveCharacter(Command):
    """Give a figure the body of a lay figure again."""

    kind: Literal["character.leave"] = "character.leave"
    figure: Id

    def apply(self, scene: Scene) -> Outcome:
        figure: Figure = find(scene, "figures", self.figure)
        if figure.character is None:
            raise Refused(
                f"{figure.name} is a lay figure already.", "Choose a figure with a character.", field="figure"
            )
        return replace(
            scene, "figures", changed(figure, character=None)
        ), f"{figure.name} is a lay figure again"


class BringMotion(Command):
    """Have a figure do a recorded motion from a frame on, as long as that takes; what it did at that time is made shorter."""

    kind: Literal["motion.bring"] = "motion.bring"
    figure: Id
    file: FileKey
    name: Name
    #: How long it takes.
    seconds: Annotated[float, Field(gt=0, le=3600)]
    frame: FrameNumber
    goes: bool = True

    def apply(self, scene: Scene) -> Outcome:
        count = max(round(self.seconds * float(parse_rate(scene.rate))) + 1, 2)
        frames = Frames(first=self.frame, last=self.frame + count - 1)
        act = Recorded(file=self.file, name=self.name, goes=self.goes, frames=frames)
        return AddAct(figure=self.figure, act=act).apply(scene)


class StandOn(Command):
    """Say whether figures can stand on parts of a set."""

    kind: Literal["set.stand_on"] = "set.stand_on"
    ids: tuple[Id, ...] = Field(min_length=1, max_length=500)
    stood_on: bool

    def apply(self, scene: Scene) -> Outcome:
        pieces = [_brought(scene, one) for one in self.ids]
        after = [changed(piece, source=changed(source, stood_on=self.stood_on)) for piece, source in pieces]
        what = after[0].name if len(after) == 1 else f"{len(after)} parts"
        return replace(
            scene, "pieces", *after
        ), f"Figures {'' if self.stood_on else 'no longer '}stand on {what}"


class RepicturePiece(Command):
    """Have one part of a set be a part of another file; it keeps its place and its size."""

    kind: Literal["piece.source"] = "piece.source"
    piece: Id
    file: FileKey
    part: Annotated[int, Field(ge=0, le=9999)] = 0
    name: Name

    def apply(self, scene: Scene) -> Outcome:
        piece, source = _brought(scene, self.piece)
        unlocked(piece)
        after = changed(piece, source=changed(source, file=self.file, part=self.part))
        if after == piece:
            raise Refused(f"{piece.name} is of that file already.", "Choose another one.", field="file")
        return replace(scene, "pieces", after), f"{piece.name} is {self.name} now"


class NewVersion(Command):
    """Have parts of one file be of another: the part of the same name takes the place of the old one.

    A part that stands where its file has it goes where the new one has it; one that was moved keeps by how much. Parts of
    the old file alone stay as they are; those of the new alone are put up.
    """

    kind: Literal["file.renew"] = "file.renew"
    name: Name
    file: FileKey
    to: FileKey
    before: tuple[PartIn, ...] = Field(min_length=1, max_length=200)
    parts: tuple[PartIn, ...] = Field(min_length=1, max_length=200)
    #: How the ids of pieces that it adds begin.
    id: Id = Field(default_factory=lambda: new_id("set"))

    def apply(self, scene: Scene) -> Outcome:
        of_it = [(p, p.source) for p in scene.pieces if p.source is not None and p.source.file == self.file]
        if not of_it:
            raise Refused(f"Nothing here is of {self.name}.", "Bring it in first.", field="file")
        old = {one.part: one for one in self.before}
        new = {one.name: one for one in self.parts}
        taken: set[str] = set()
        after = []
        for piece, source in of_it:
            was = old.get(source.part)
            now = new.get(was.name) if was else None
            if was is None or now is None:
                continue
            taken.add(now.name)
            size = {
                n: getattr(piece, n) * getattr(now, n) / getattr(was, n) for n in ("width", "height", "depth")
            }
            shift = {n: getattr(piece, n) + getattr(now, n) - getattr(was, n) for n in ("x", "base", "z")}
            if piece.part_of is not None or piece.heading:
                shift = {}
            after.append(changed(piece, source=changed(source, file=self.to, part=now.part), **size, **shift))
        if not after:
            raise Refused(
                f"{self.name} has no part of a name that is here.",
                "Bring it in as a set of its own.",
                field="to",
            )
        scene = replace(scene, "pieces", *after)
        whole = next((piece for piece in after if piece.part_of is None), None)
        fresh = [
            one
            for one in self.parts
            if one.name not in taken and one.name not in {o.name for o in self.before}
        ]
        if fresh and whole is not None:
            dx, dz = _moved(whole, self.parts)
            more = _pieces(scene, self.id, self.to, tuple(fresh), (dx, 0.0, dz), whole.group)
            scene = scene.having(pieces=(*scene.pieces, *more))
        gone = len(of_it) - len(after)
        tail = (
            f"; {gone} of its parts {'is' if gone == 1 else 'are'} not in it and stay{'s' if gone == 1 else ''} as before"
            if gone
            else ""
        )
        return scene, f"{self.name} is a new version{tail}"


def _moved(piece: Piece, parts: tuple[PartIn, ...]) -> tuple[float, float]:
    own = next(one for one in parts if piece.source is not None and one.part == piece.source.part)
    return piece.x - own.x, piece.z - own.z


def _brought(scene: Scene, id_: Id) -> tuple[Piece, FromFile]:
    piece: Piece = find(scene, "pieces", id_)
    if piece.source is None:
        raise Refused(f"{piece.name} was not brought in.", "Choose parts of a set that was.", field="ids")
    return piece, piece.source


def new_part_id(id_: Id) -> Id:
    """How the ids of a mover's parts begin."""
    return f"{id_[:34]}-p"


def _pieces(
    scene: Scene,
    id_: Id,
    file: FileKey,
    parts: tuple[PartIn, ...],
    at: tuple[float, float, float],
    group: Label,
) -> list[Piece]:
    taken = {p.name for p in scene.pieces}
    x, base, z = at
    out = []
    for i, part in enumerate(parts):
        name = unused(part.name, taken)
        taken.add(name)
        out.append(
            Piece(
                id=f"{id_[:35]}-{i}", name=name, kind="model", x=round(x + part.x, 6), z=round(z + part.z, 6), base=round(base + part.base, 6),
                width=part.width, height=part.height, depth=part.depth, colour=OWN_COLOUR, source=FromFile(file=file, part=part.part), group=group,
            )
        )  # fmt: skip
    return out
