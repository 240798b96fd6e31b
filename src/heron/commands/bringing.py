"""Commands that put on the stage what was brought in, and change which file it is of."""

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from heron.commands.acts import AddAct
from heron.commands.base import Command, Outcome, free_name, unlocked
from heron.commands.figures import AddFigure
from heron.commands.key_edits import ERRORS
from heron.commands.moving_parts import MakeMover
from heron.curves import Channel
from heron.curves.simplify import simplified
from heron.curves.spec import Measure
from heron.errors import BadInput, Refused
from heron.model import STAGE_LIMIT_M, FileKey, Id, Label, Metres, Model, Name, Size, changed, new_id
from heron.optics import Lens
from heron.optics.backs import FilmBack
from heron.optics.exposure import NARROWEST_STOP, WIDEST_STOP
from heron.scene import POSE, Camera, Scene, find, letter_after, replace
from heron.scene.focus import NEAREST_M, AtDistance, Focus, Pulled
from heron.stage.acts.body import Recorded
from heron.stage.figure import Figure
from heron.stage.floors import support
from heron.stage.piece import FromFile, Piece
from heron.timebase import Frames, parse_rate
from heron.timebase.frames import FrameNumber

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: What was brought in is white times its own colours.
_OWN = "#ffffff"


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
        group = _free(self.name, {p.group for p in scene.pieces})
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
        name = _free(self.name, {m.name for m in scene.movers})
        group = _free(self.name, {p.group for p in scene.pieces})
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
            name = _free(self.name, {one.name for one in scene.figures})
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


#: Frames of a camera that is brought in.
_MOST = 20_000
_Values = Annotated[tuple[float, ...], Field(min_length=1, max_length=_MOST)]


class CameraTrack(Model):
    """A camera of a file, with a value for each frame: metres on the stage, degrees, millimetres, f-number."""

    name: Name
    #: The stage frame of its first value, where the file says one.
    first: FrameNumber | None = None
    x: _Values
    y: _Values
    z: _Values
    pan: _Values
    tilt: _Values
    roll: _Values
    focal: _Values
    back: FilmBack
    squeeze: float = 1.0
    f_stop: _Values | None = None
    #: None is infinity.
    focus_m: Annotated[tuple[float | None, ...], Field(max_length=_MOST)] | None = None
    shutter_deg: float | None = None
    iso: float | None = None


class BringCameras(Command):
    """Put the cameras of a file on the stage, their moves and lenses as keys: one on every frame, or few within an error."""

    kind: Literal["cameras.bring"] = "cameras.bring"
    #: How the ids of the cameras begin.
    id: Id = Field(default_factory=lambda: new_id("cam"))
    cameras: tuple[CameraTrack, ...] = Field(min_length=1, max_length=60)
    #: The stage frame that is the file's beginning; left out, the one it says, else the scene's first.
    at: FrameNumber | None = None
    #: As few keys as stay within these errors, by measure; none, a key on every frame.
    few: bool = False

    def apply(self, scene: Scene) -> Outcome:
        made, cut = [], False
        letters, names = {one.letter for one in scene.cameras}, {one.name for one in scene.cameras}
        for i, track in enumerate(self.cameras):
            camera, whole = self._camera(
                scene, track, f"{self.id[:36]}-{i}", letter_after(letters), _free(track.name, names)
            )
            letters, names, cut = letters | {camera.letter}, names | {camera.name}, cut or not whole
            made.append(camera)
        what = f"camera {made[0].letter} “{made[0].name}”" if len(made) == 1 else f"{len(made)} cameras"
        keys = sum(len(channel.keys) for one in made for _, channel in one.each())
        said = f"Brought in {what}, {keys:,} keys"
        if cut:
            said += "; what goes past the scene's end is left out"
        return scene.having(cameras=(*scene.cameras, *made)), said

    def _camera(
        self, scene: Scene, track: CameraTrack, id_: str, letter: str, name: str
    ) -> tuple[Camera, bool]:
        first = self.at if self.at is not None else track.first
        if first is None or (self.at is None and first not in scene.frames):
            first = scene.frames.first
        count = len(track.x)
        fits = min(count, scene.frames.last - first + 1)
        if fits < 1:
            raise Refused(
                f"It would begin at {first}, after the scene's end.",
                f"Begin at {scene.frames.last} at the latest.",
                field="at",
            )
        numbers = {one: np.array(getattr(track, one)[:fits]) for one in (*POSE, "focal")}
        if track.f_stop is not None:
            numbers["aperture"] = 2 * np.log2(np.clip(track.f_stop[:fits], WIDEST_STOP, NARROWEST_STOP))
        if any(len(values) < fits for values in numbers.values()):
            raise BadInput(
                f"{track.name} has not as many values of each of its numbers.",
                "Bring it in again.",
                field="cameras",
            )
        lens = Lens(back=track.back, squeeze=track.squeeze)
        own = {name: value for name in ("shutter_deg", "iso") if (value := getattr(track, name)) is not None}
        blank = Camera(id=id_, letter=letter, name=name, lens=lens, **own)
        channels = {
            one: self._channel(blank.spec(one).measure, first, values) for one, values in numbers.items()
        }
        focus = Focus()
        if track.focus_m is not None and fits <= len(track.focus_m):
            per_m = np.array(
                [
                    1 / STAGE_LIMIT_M if one is None else 1 / max(one, NEAREST_M)
                    for one in track.focus_m[:fits]
                ]
            )
            if np.ptp(per_m) < 1e-7:
                focus = Focus(on=AtDistance(metres=track.focus_m[0] and round(track.focus_m[0], 4)))
            else:
                focus = Focus(on=Pulled(), distance=self._channel("per metre", first, per_m))
        return changed(blank, focus=focus, **channels), fits == count

    def _channel(self, measure: Measure, first: int, values: Floats) -> Channel:
        if np.ptp(values) < 1e-7:
            return Channel(rest=round(float(values[0]), 6))
        return simplified(first, values, ERRORS[measure] if self.few else 0.0)


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


def _free(name: Name, taken: set[str]) -> Name:
    return name if name.lower() not in {one.lower() for one in taken} else free_name(name, taken, 2)


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
        name = _free(part.name, taken)
        taken.add(name)
        out.append(
            Piece(
                id=f"{id_[:35]}-{i}", name=name, kind="model", x=round(x + part.x, 6), z=round(z + part.z, 6), base=round(base + part.base, 6),
                width=part.width, height=part.height, depth=part.depth, colour=_OWN, source=FromFile(file=file, part=part.part), group=group,
            )
        )  # fmt: skip
    return out
