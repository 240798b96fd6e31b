"""Edits of the cut: edges of shots moved, and shots put in, taken out, split, joined and put elsewhere."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome, listed
from heron.commands.shots import next_name
from heron.cut import edits
from heron.cut.edits import Laid, Part, Stop, Vector
from heron.errors import BadInput, NotFound, Refused
from heron.model import Id, Model, changed, new_id
from heron.scene import Camera, Scene, Shot, find
from heron.timebase import MAX_FRAMES, Frames
from heron.timebase.frames import FrameNumber

#: An id or a name.
_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Shots = Annotated[tuple[_Name, ...], Field(min_length=1, max_length=5000)]
_By = Annotated[int, Field(ge=-MAX_FRAMES, le=MAX_FRAMES)]
_CutFrame = Annotated[int, Field(ge=0, le=10 * MAX_FRAMES)]


class MoveEdges(Model):
    """Moves edges of shots by so many frames: later in the action or the cut, as drawn in `heron.cut.edits`.

    A trim has the cut close up behind it; `leaving` leaves the rest in place, `overwriting` goes on into the neighbour.
    """

    edit: Literal["trim_in", "trim_out", "roll", "slip", "slide"]
    shots: _Shots
    by: _By = 0
    leaving: bool = False
    overwriting: bool = False


class Change(Model):
    """Takes shots out, leaving black or closing up; closes the black before them; joins two; copies them behind themselves.

    before:     |--1--|..|--2--|--3--|
    lift 2:     |--1--|.........|--3--|      ripple_delete 2:  |--1--|..|--3--|
    close_gap:  |--1--|--2--|--3--|          duplicate 2:      |--1--|..|--2--|--2--|--3--|
    """

    edit: Literal["lift", "ripple_delete", "close_gap", "join", "duplicate"]
    shots: _Shots


class Put(Model):
    """Puts a camera's view of the stage into the cut: what comes later moves on, or what lies there is covered.

    insert at c:     |--1--|-2-|new|-2b-|--3--|
    overwrite at c:  |--1--|-2-|new|-3-|

    Of the first and last frames of the stage and of the cut, `at` and `stage`, or any three, are given.
    """

    edit: Literal["insert", "overwrite"]
    camera: _Name
    stage: Frames | tuple[FrameNumber, FrameNumber] | None = None
    at: _CutFrame | None = None
    stage_in: FrameNumber | None = None
    stage_out: FrameNumber | None = None
    cut_in: _CutFrame | None = None
    cut_out: _CutFrame | None = None


class Split(Model):
    """Splits the shot that shows a cut frame: `at` is the first frame of the second half.

    |--1--|----2----|--3--|   ->   |--1--|--2|2b--|--3--|
    """

    edit: Literal["split"]
    at: _CutFrame


class Angle(Model):
    """Puts another camera in place: over the same frames of the stage, or over others, which moves what comes later."""

    edit: Literal["swap_angle", "replace"]
    shots: _Shots
    camera: _Name | None = None
    stage: Frames | tuple[FrameNumber, FrameNumber] | None = None


class Reorder(Model):
    """Puts shots before another one, or last; each keeps the black before it.

    |--1--|--2--|--3--|   2 before 1:   |--2--|--1--|--3--|
    """

    edit: Literal["move"]
    shots: _Shots
    before: _Name | None = None


class Extend(Model):
    """Takes an edge of a shot to a cut frame: a roll where it touches its neighbour, else the rest stays in place."""

    edit: Literal["extend"]
    shots: _Shots
    edge: Literal["in", "out"]
    to: _CutFrame


Edit = Annotated[MoveEdges | Change | Put | Split | Angle | Reorder | Extend, Field(discriminator="edit")]
_WORDS = {
    "trim_in": "Trimmed the head of", "trim_out": "Trimmed the tail of", "roll": "Rolled the cut before",
    "slip": "Slipped", "slide": "Slid", "lift": "Lifted", "ripple_delete": "Deleted", "close_gap": "Closed the gap before",
    "join": "Joined", "duplicate": "Duplicated", "swap_angle": "Swapped the angle of", "replace": "Replaced",
}  # fmt: skip
_ASKED = {
    "trim_in": "trim",
    "trim_out": "trim",
    "roll": "roll the cut before",
    "slip": "slip",
    "slide": "slide",
}


class EditCut(Command):
    """Edit the cut: one of the edits, on one shot or several, all or none."""

    kind: Literal["cut.edit"] = "cut.edit"
    do: Edit
    #: What new shots are called by: this, and this with a number.
    id: Id = Field(default_factory=lambda: new_id("shot"))

    def apply(self, scene: Scene) -> Outcome:
        return _Editor(scene, self.id).run(self.do)


def limits(scene: Scene, edit: MoveEdges) -> tuple[Stop, Stop]:
    """How far an edit of edges goes, back and forth, and what stops it.

    Raises:
        HeronError: it cannot be done by any frame.
    """
    return _Editor(scene, "shot").limits(edit)


class _Editor:
    """A cut that is being edited."""

    def __init__(self, scene: Scene, id_: str) -> None:
        self.scene, self._id = scene, id_
        self.parts = edits.parts_of(scene.shots)
        self._made = 0

    def run(self, edit: Any) -> Outcome:
        """The scene after an edit, and what is said of it."""
        does: dict[type[Any], Callable[[Any], tuple[list[Part], str]]] = {
            MoveEdges: self._edges, Change: self._change, Put: self._put, Split: self._split, Angle: self._angle,
            Reorder: self._reorder, Extend: self._extend,
        }  # fmt: skip
        parts, said = does[type(edit)](edit)
        return self.scene.having(shots=tuple(part.done for part in parts)), said

    # Edges

    def _edges(self, edit: MoveEdges) -> tuple[list[Part], str]:
        chosen = self._chosen(edit.shots)
        for i in chosen:
            self._may(edit.edit, i)
        parts = self.parts
        for vector, by in self._vectors(edit, chosen):
            self._check(parts, vector, by, edit)
            parts = edits.moved(parts, vector, by)
        return parts, f"{_WORDS[edit.edit]} {self._told(chosen)} by {edit.by:+d} f"

    def limits(self, edit: MoveEdges) -> tuple[Stop, Stop]:
        """How far it goes, back and forth."""
        chosen = self._chosen(edit.shots)
        for i in chosen:
            self._may(edit.edit, i)
        if not edit.overwriting:
            ((vector, _),) = self._vectors(changed(edit, by=1), chosen)
            return edits.stops(self.parts, vector, self.scene.frames)
        found = []
        for way in (-1, 1):
            # As far as it goes alone, and from there into the neighbour.
            total, parts, why = 0, self.parts, ""
            for vector, by in self._vectors(changed(edit, by=way * MAX_FRAMES), chosen):
                stop = edits.stops(parts, vector, self.scene.frames)[way > 0]
                go = by if stop.by is None or abs(by) < abs(stop.by) else stop.by
                total, parts, why = total + go, edits.moved(parts, vector, go), stop.why
                if go != by:
                    break
            found.append(Stop(total, why))
        return found[0], found[1]

    def _vectors(self, edit: MoveEdges, chosen: Sequence[int]) -> Iterator[tuple[Vector, int]]:
        last = len(self.parts) - 1
        if edit.overwriting and edit.edit in ("trim_in", "trim_out"):
            for i in chosen:
                yield from edits.overwriting(self.parts, i, head=edit.edit == "trim_in", by=edit.by)
            return
        made = {
            "trim_in": edits.trim_in_leaving if edit.leaving else edits.trim_in,
            "trim_out": (lambda i: edits.trim_out_leaving(i, last)) if edit.leaving else edits.trim_out,
            "roll": edits.roll, "slip": edits.slip,
        }  # fmt: skip
        if edit.edit == "slide":
            yield edits.added([edits.slide(self.parts, *run) for run in _runs(chosen)]), edit.by
        else:
            yield edits.added([made[edit.edit](i) for i in chosen]), edit.by

    def _check(self, parts: Sequence[Part], vector: Vector, by: int, edit: Any) -> None:
        back, forth = edits.stops(parts, vector, self.scene.frames)
        stop = back if by < 0 else forth
        if by == 0 or stop.by is None or abs(by) <= abs(stop.by):
            return
        chosen = self._told(self._chosen(edit.shots))
        raise Refused(
            f"Can't {_ASKED.get(edit.edit, 'extend')} {chosen} by {by:+d} f: {stop.why}{edits.frames_word(stop.by)}.",
            "Go no farther than that, or make room first.",
            field="by",
        )

    def _may(self, edit: str, i: int) -> None:
        part, name = self.parts[i], self.parts[i].shot.name
        if edit != "roll":
            return
        if i == 0:
            raise Refused(
                f"Shot {name} is the first: there is no cut before it.", "Roll a later one.", field="shots"
            )
        if part.gap:
            raise Refused(
                f"Shot {name} does not touch the shot before it: {part.gap} black frames lie between.",
                "Close the gap first, or trim it leaving the rest in place.",
                field="shots",
            )

    def _extend(self, edit: Extend) -> tuple[list[Part], str]:
        (i,) = self._chosen(edit.shots, most=1)
        at, part = edits.places(self.parts)[i], self.parts[i]
        head = edit.edge == "in"
        by = edit.to - (at if head else at + part.count - 1)
        touches = i > 0 and part.gap == 0 if head else i + 1 < len(self.parts) and self.parts[i + 1].gap == 0
        if touches:
            vector = edits.roll(i if head else i + 1)
        else:
            vector = edits.trim_in_leaving(i) if head else edits.trim_out_leaving(i, len(self.parts) - 1)
        self._check(self.parts, vector, by, edit)
        told = f"Extended the {'head' if head else 'tail'} of shot {part.shot.name} to frame {edit.to} of the cut"
        return edits.moved(self.parts, vector, by), f"{told} ({by:+d} f)"

    # Structure

    def _change(self, edit: Change) -> tuple[list[Part], str]:
        chosen = self._chosen(edit.shots)
        laid = edits.laid_out(self.parts)
        if edit.edit == "join":
            return self._join(chosen)
        if edit.edit == "lift":
            parts = edits.in_order([one for i, one in enumerate(laid) if i not in chosen])
        elif edit.edit == "close_gap":
            parts = [replace(part, gap=0) if i in chosen else part for i, part in enumerate(self.parts)]
        elif edit.edit == "ripple_delete":
            parts, kept = [], 0
            for i, part in enumerate(self.parts):
                kept = kept + part.gap if i in chosen else kept
                if i not in chosen:
                    parts.append(replace(part, gap=part.gap + kept))
                    kept = 0
        else:
            parts = []
            for i, part in enumerate(self.parts):
                parts += [part, self._new(part, gap=0)] if i in chosen else [part]
        return parts, f"{_WORDS[edit.edit]} {self._told(chosen)}"

    def _join(self, chosen: Sequence[int]) -> tuple[list[Part], str]:
        if len(chosen) != 2 or chosen[1] != chosen[0] + 1:
            raise Refused("Two neighbours are joined.", "Choose a shot and the one after it.", field="shots")
        one, two = (self.parts[i] for i in chosen)
        a, b = one.shot.name, two.shot.name
        off = two.first - (one.first + one.count)
        why = ""
        if one.shot.camera != two.shot.camera:
            letters = [find(self.scene, "cameras", part.shot.camera).letter for part in (one, two)]
            why = f"{a} is on {letters[0]}, {b} on {letters[1]}"
        elif two.gap:
            why = f"{two.gap} black frames lie between"
        elif off:
            why = f"{b} begins {off:+d} f from where {a} ends"
        if why:
            raise Refused(
                f"Can't join shots {a} and {b}: {why}.",
                "Trim, move or swap one of them first.",
                field="shots",
            )
        i = chosen[0]
        joined = replace(one, count=one.count + two.count)
        return [*self.parts[:i], joined, *self.parts[i + 2 :]], f"Joined shots {a} and {b}"

    def _put(self, edit: Put) -> tuple[list[Part], str]:
        camera, (stage, at) = self._camera(edit.camera), self._points(edit)
        self._inside(stage)
        laid = edits.laid_out(self.parts)
        stop = at + stage.count
        under: list[Laid] = []
        for one in laid:
            head, tail = edits.head_of(one, at), edits.tail_of(one, at if edit.edit == "insert" else stop)
            if head is not None and tail is not None:
                tail = Laid(tail.at, self._new(tail.part, gap=0))
            under += [piece for piece in (head, tail) if piece is not None]
        if edit.edit == "insert":
            under = edits.later(under, at, stage.count)
        name = self._name(at)
        shot = Shot(id=self._next_id(), name=name, camera=camera.id, stage=stage)
        parts = edits.in_order([*under, Laid(at, Part(shot, 0, stage.first, stage.count))])
        word = "Inserted" if edit.edit == "insert" else "Overwrote with"
        return (
            parts,
            f"{word} shot {name} on camera {camera.letter}, {stage} ({stage.count} f), at frame {at} of the cut",
        )

    def _points(self, edit: Put) -> tuple[Frames, int]:
        stage = self._stage(edit.stage)
        ends = (edit.stage_in, edit.stage_out) if stage is None else (stage.first, stage.last)
        starts = (edit.cut_in if edit.at is None else edit.at, edit.cut_out)
        found = edits.three_points(ends, starts)
        if isinstance(found, str):
            raise BadInput(
                f"{found}.", "Give the camera, its frames of the stage and where it goes.", field="do"
            )
        return found

    def _split(self, edit: Split) -> tuple[list[Part], str]:
        laid = edits.laid_out(self.parts)
        i = next((k for k, one in enumerate(laid) if one.at < edit.at < one.stop), None)
        if i is None:
            raise Refused(
                f"At frame {edit.at} of the cut no shot has frames on both sides.",
                "Go to a frame inside a shot.",
                field="at",
            )
        head, tail = edits.head_of(laid[i], edit.at), edits.tail_of(laid[i], edit.at)
        assert head is not None and tail is not None
        half = self._new(tail.part, gap=0)
        name = head.part.shot.name
        return [
            *self.parts[:i],
            head.part,
            half,
            *self.parts[i + 1 :],
        ], f"Split shot {name} at frame {edit.at} of the cut"

    def _angle(self, edit: Angle) -> tuple[list[Part], str]:
        chosen = self._chosen(edit.shots)
        camera = None if edit.camera is None else self._camera(edit.camera)
        stage = self._stage(edit.stage) if edit.edit == "replace" else None
        if camera is None and stage is None:
            raise BadInput(
                "Nothing to put in its place was named.", "Give a camera, or frames of the stage.", field="do"
            )
        if stage is not None:
            self._inside(stage)
        parts = list(self.parts)
        for i in chosen:
            if camera is not None:
                parts[i] = replace(parts[i], shot=changed(parts[i].shot, camera=camera.id))
            if stage is not None:
                parts[i] = replace(parts[i], first=stage.first, count=stage.count)
        what = [f"camera {camera.letter}"] if camera else []
        what += [f"{stage} ({stage.count} f)"] if stage else []
        return parts, f"{_WORDS[edit.edit]} {self._told(chosen)}: now {', '.join(what)}"

    def _reorder(self, edit: Reorder) -> tuple[list[Part], str]:
        chosen = self._chosen(edit.shots)
        rest = [part for i, part in enumerate(self.parts) if i not in chosen]
        before = None if edit.before is None else self._find(edit.before)
        if before in chosen:
            raise Refused(
                "A shot can't go before itself.", "Choose another one, or none for the end.", field="before"
            )
        to = len(rest) if before is None else rest.index(self.parts[before])
        moved = [self.parts[i] for i in chosen]
        where = "to the end" if before is None else f"before {self.parts[before].shot.name}"
        return [*rest[:to], *moved, *rest[to:]], f"Moved {self._told(chosen)} {where}"

    # What is named

    def _chosen(self, names: Sequence[str], most: int | None = None) -> list[int]:
        found = sorted({self._find(name) for name in names})
        if most is not None and len(found) > most:
            raise BadInput("This is done to one shot.", "Name one.", field="shots")
        return found

    def _find(self, name: str) -> int:
        for i, part in enumerate(self.parts):
            if name in (part.shot.id, part.shot.name):
                return i
        raise NotFound(
            f"There is no shot {name} in the cut.", "It may have been deleted; choose another.", field="shots"
        )

    def _camera(self, name: str) -> Camera:
        for camera in self.scene.cameras:
            if name in (camera.id, camera.letter):
                return camera
        raise NotFound(
            f"There is no camera {name} in this scene.", "Choose one that is there.", field="camera"
        )

    @staticmethod
    def _stage(stage: Frames | tuple[int, int] | None) -> Frames | None:
        return Frames(first=stage[0], last=stage[1]) if isinstance(stage, tuple) else stage

    def _inside(self, stage: Frames) -> None:
        frames = self.scene.frames
        if stage.first < frames.first or stage.last > frames.last:
            raise Refused(
                f"A shot cannot show {stage}: the scene runs {frames}.", "Choose frames inside the scene.", field="stage"
            )  # fmt: skip

    def _told(self, chosen: Sequence[int]) -> str:
        names = [self.parts[i].shot.name for i in chosen]
        return (
            f"shot{'s' if len(names) > 1 else ''} {listed(names)}"
            if len(names) < 8
            else f"{len(names)} shots"
        )

    def _new(self, part: Part, gap: int) -> Part:
        """The same as another shot, under a name and an id of its own."""
        at = next(i for i, one in enumerate(self.parts) if one.shot.id == part.shot.id)
        name = next_name((*self.scene.shots, *self._names), at)
        shot: Shot = changed(part.shot, id=self._next_id(), name=name)
        self._names = (*self._names, shot)
        return replace(part, shot=shot, gap=gap)

    _names: tuple[Shot, ...] = ()

    def _name(self, at: int) -> str:
        """A name for a shot that begins at a cut frame."""
        before = [i for i, one in enumerate(edits.laid_out(self.parts)) if one.at < at]
        return next_name((*self.scene.shots, *self._names), before[-1] if before else None)

    def _next_id(self) -> str:
        self._made += 1
        return self._id if self._made == 1 else f"{self._id[:36]}-{self._made}"


def _runs(chosen: Sequence[int]) -> Iterator[tuple[int, int]]:
    """First and last of each run of neighbours."""
    first = last = chosen[0]
    for i in chosen[1:]:
        if i != last + 1:
            yield first, last
            first = i
        last = i
    yield first, last
