"""Edits of the cut: edges of shots moved, and shots put in, taken out, split, joined and put elsewhere."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any, Literal

from pydantic import Field

from heron.commands import cut_joins
from heron.commands.base import Command, Outcome, listed
from heron.commands.cut_editor import Editor
from heron.commands.cut_edits import (
    AddVersion,
    Angle,
    Change,
    Choose,
    Dissolve,
    DropVersion,
    Edit,
    Extend,
    Fade,
    Live,
    MoveEdges,
    Put,
    Reorder,
    Split,
)
from heron.commands.cut_live import cut_live
from heron.commands.shots import usual_count
from heron.cut import edits
from heron.cut.edits import Laid, Stop, Vector
from heron.errors import BadInput, Refused
from heron.model import Id, changed, new_id
from heron.scene import Scene, Shot, find
from heron.scene.joins import Part, misfits, parted
from heron.timebase import MAX_FRAMES, Frames

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
    "sound": "move the sound's cut before",
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


class _Editor(Editor):
    """Does the edits."""

    def run(self, edit: Any) -> Outcome:
        """The scene after an edit, and what is said of it."""
        does: dict[type[Any], Callable[[Any], tuple[list[Part], str]]] = {
            MoveEdges: self._edges, Change: self._change, Put: self._put, Split: self._split, Angle: self._angle,
            Reorder: self._reorder, Extend: self._extend,
        }  # fmt: skip
        joins: dict[type[Any], Callable[[Editor, Any], tuple[list[Part], str]]] = {
            Fade: cut_joins.fade, Dissolve: cut_joins.dissolve, AddVersion: cut_joins.add_version,
            Choose: cut_joins.choose, DropVersion: cut_joins.drop_version, Live: cut_live,
        }  # fmt: skip
        kind = type(edit)
        parts, said = does[kind](edit) if kind in does else joins[kind](self, edit)
        shots, more = parted(self.scene.shots, [part.done for part in parts])
        if (wrong := next(misfits(shots, self.scene.frames), None)) is not None:
            raise Refused(
                f"This can't be done: {wrong}.",
                "Trim the shot, or shorten its fades, its dissolves or the sound that leads.",
            )
        return self.scene.having(shots=shots), said + more

    # Edges

    def _edges(self, edit: MoveEdges) -> tuple[list[Part], str]:
        chosen = self.chosen(edit.shots)
        for i in chosen:
            self._may(edit.edit, i)
        parts = self.parts
        for vector, by in self._vectors(edit, chosen):
            self._check(parts, vector, by, edit)
            parts = edits.moved(parts, vector, by)
        if edit.edit == "sound":
            ways = listed(list(dict.fromkeys(_lead_said(parts[i].lead) for i in chosen)))
            return parts, f"Moved the sound's cut to {self.told(chosen)}: it {ways}"
        return parts, f"{_WORDS[edit.edit]} {self.told(chosen)} by {edit.by:+d} f"

    def limits(self, edit: MoveEdges) -> tuple[Stop, Stop]:
        """How far it goes, back and forth."""
        chosen = self.chosen(edit.shots)
        for i in chosen:
            self._may(edit.edit, i)
        if not edit.overwriting:
            ((vector, _),) = self._vectors(changed(edit, by=1, lead=None), chosen)
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
            "roll": edits.roll_picture if edit.picture_alone else edits.roll,
            "slip": edits.slip, "sound": edits.sound,
        }  # fmt: skip
        if edit.edit == "slide":
            yield edits.added([edits.slide(self.parts, *run) for run in _runs(chosen)]), edit.by
        elif edit.edit == "sound" and edit.lead is not None:
            yield from ((edits.sound(i), self.parts[i].lead - edit.lead) for i in chosen)
        else:
            yield edits.added([made[edit.edit](i) for i in chosen]), edit.by

    def _check(self, parts: Sequence[Part], vector: Vector, by: int, edit: Any) -> None:
        back, forth = edits.stops(parts, vector, self.scene.frames)
        stop = back if by < 0 else forth
        if by == 0 or stop.by is None or abs(by) <= abs(stop.by):
            return
        chosen = self.told(self.chosen(edit.shots))
        raise Refused(
            f"Can't {_ASKED.get(edit.edit, 'extend')} {chosen} by {by:+d} f: {stop.why}{edits.frames_word(stop.by)}.",
            "Go no farther than that, or make room first.",
            field="by",
        )

    def _may(self, edit: str, i: int) -> None:
        part, name = self.parts[i], self.parts[i].shot.name
        if edit == "slip" and part.shot.camera is None:
            raise Refused(
                f"Shot {name} is a slate: it shows the same on every frame.",
                "Give it a camera first.",
                field="shots",
            )
        if edit not in ("roll", "sound"):
            return
        if i == 0:
            raise Refused(
                f"Shot {name} is the first: there is no cut before it.", "Choose a later one.", field="shots"
            )
        if part.gap:
            raise Refused(
                f"Shot {name} does not touch the shot before it: {part.gap} black frames lie between.",
                "Close the gap first, or trim it leaving the rest in place.",
                field="shots",
            )

    def _extend(self, edit: Extend) -> tuple[list[Part], str]:
        (i,) = self.chosen(edit.shots, most=1)
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
        chosen = self.chosen(edit.shots)
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
        elif edit.before is not None:
            at = self.find(edit.before)
            copies = [self.copy_of(self.parts[i], gap=0) for i in chosen]
            # The black before what they are put before stays before that.
            parts = [*self.parts[:at], *copies, *self.parts[at:]]
        else:
            parts = []
            for i, part in enumerate(self.parts):
                parts += [part, self.copy_of(part, gap=0)] if i in chosen else [part]
        return parts, f"{_WORDS[edit.edit]} {self.told(chosen)}"

    def _join(self, chosen: Sequence[int]) -> tuple[list[Part], str]:
        if len(chosen) != 2 or chosen[1] != chosen[0] + 1:
            raise Refused("Two neighbours are joined.", "Choose a shot and the one after it.", field="shots")
        one, two = (self.parts[i] for i in chosen)
        a, b = one.shot.name, two.shot.name
        off = 0 if one.shot.camera is None else two.first - (one.first + one.count)
        why = ""
        if one.shot.camera != two.shot.camera:
            on = [self._on(part.shot) for part in (one, two)]
            why = f"{a} is {on[0]}, {b} {on[1]}"
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
        shot = changed(
            one.shot,
            fade_out=two.shot.fade_out,
            fade_colour=(two if two.shot.fade_out else one).shot.fade_colour,
        )
        joined = replace(one, shot=shot, count=one.count + two.count)
        return [*self.parts[:i], joined, *self.parts[i + 2 :]], f"Joined shots {a} and {b}"

    def _put(self, edit: Put) -> tuple[list[Part], str]:
        camera = None if edit.camera is None else self.camera(edit.camera)
        stage, at = self._points(edit) if camera else self._slate(edit)
        if camera:
            self.inside(stage)
        laid = edits.laid_out(self.parts)
        stop = at + stage.count
        under: list[Laid] = []
        for one in laid:
            head, tail = edits.head_of(one, at), edits.tail_of(one, at if edit.edit == "insert" else stop)
            if head is not None and tail is not None:
                tail = Laid(tail.at, self.copy_of(tail.part, gap=0))
            under += [piece for piece in (head, tail) if piece is not None]
        if edit.edit == "insert":
            under = edits.later(under, at, stage.count)
        name = self.free_name(at)
        shot = Shot(id=self.next_id(), name=name, camera=camera.id if camera else None, stage=stage)
        parts = edits.in_order([*under, Laid(at, Part(shot, 0, stage.first, stage.count))])
        word = "Inserted" if edit.edit == "insert" else "Overwrote with"
        what = f"on camera {camera.letter}, {stage}" if camera else "as a slate"
        return parts, f"{word} shot {name} {what} ({stage.count} f), at frame {at} of the cut"

    def _on(self, shot: Shot) -> str:
        """What a shot shows, in a sentence."""
        return "a slate" if shot.camera is None else f"on {find(self.scene, 'cameras', shot.camera).letter}"

    def _slate(self, edit: Put) -> tuple[Frames, int]:
        """The frames of its own that a slate has, and where it goes."""
        at = edit.cut_in if edit.at is None else edit.at
        if at is None or edit.frames is None:
            raise BadInput(
                "A slate needs a place and a length.", 'Give "at" and "frames", or name a camera.', field="do"
            )
        return Frames(first=1, last=edit.frames), at

    def _points(self, edit: Put) -> tuple[Frames, int]:
        stage = self.stage_of(edit.stage)
        ends = (edit.stage_in, edit.stage_out) if stage is None else (stage.first, stage.last)
        starts = (edit.cut_in if edit.at is None else edit.at, edit.cut_out)
        if ends[0] is not None and starts[0] is not None and ends[1] is None and starts[1] is None:
            ends = (ends[0], max(ends[0], min(ends[0] + usual_count(self.scene) - 1, self.scene.frames.last)))
        found = edits.three_points(ends, starts)
        if isinstance(found, str):
            raise BadInput(
                f"{found}.", "Give the camera, its frames of the stage and where it goes.", field="do"
            )
        return found

    def _split(self, edit: Split) -> tuple[list[Part], str]:
        laid = edits.laid_out(self.parts)
        i, at = self._parting(edit, laid)
        head, tail = edits.head_of(laid[i], at), edits.tail_of(laid[i], at)
        assert head is not None and tail is not None
        half, to = self.copy_of(tail.part, gap=0), ""
        if edit.camera is not None:
            camera = self.camera(edit.camera)
            half, to = replace(half, shot=changed(half.shot, camera=camera.id)), f" to camera {camera.letter}"
        said = f"{'Cut' if to else 'Split'} shot {head.part.shot.name} at frame {at} of the cut{to}"
        return [*self.parts[:i], head.part, half, *self.parts[i + 1 :]], f"{said} (shot {half.shot.name})"

    def _parting(self, edit: Split, laid: Sequence[Laid]) -> tuple[int, int]:
        """The place of the shot that is split, and the cut frame at which it is."""
        if edit.at is not None:
            i = next((k for k, one in enumerate(laid) if one.at < edit.at < one.stop), None)
            if i is None:
                raise Refused(
                    f"At frame {edit.at} of the cut no shot has frames on both sides.",
                    "Go to a frame inside a shot.",
                    field="at",
                )
            return i, edit.at
        if edit.shot is None or edit.frame is None:
            raise BadInput(
                "Where to split was not said.", "Give a frame of the cut, or a shot and its frame of the stage.", field="at"
            )  # fmt: skip
        i = self.find(edit.shot)
        shot = self.parts[i].shot
        if edit.frame not in shot.stage or edit.frame == shot.stage.first:
            raise Refused(
                f"Shot {shot.name} shows {shot.stage}, so it cannot be cut at {edit.frame}.",
                "Cut it at a frame that it shows, after its first.",
                field="frame",
            )
        return i, laid[i].at + edit.frame - shot.stage.first

    def _angle(self, edit: Angle) -> tuple[list[Part], str]:
        chosen = self.chosen(edit.shots)
        camera = None if edit.camera is None else self.camera(edit.camera)
        stage = self.stage_of(edit.stage) if edit.edit == "replace" else None
        begins = edit.stage_in if edit.edit == "replace" else None
        if camera is None and stage is None and begins is None:
            raise BadInput(
                "Nothing to put in its place was named.", "Give a camera, or frames of the stage.", field="do"
            )
        parts = list(self.parts)
        for i in chosen:
            if begins is not None:
                stage = Frames(first=begins, last=begins + parts[i].count - 1)
            if stage is not None:
                self.inside(stage)
            if camera is not None:
                first = parts[i].first if parts[i].shot.camera or stage else self.follow_on(i)
                parts[i] = replace(parts[i], shot=changed(parts[i].shot, camera=camera.id), first=first)
            if stage is not None:
                parts[i] = replace(parts[i], first=stage.first, count=stage.count)
        what = [f"camera {camera.letter}"] if camera else []
        what += [f"{stage} ({stage.count} f)"] if stage else []
        return parts, f"{_WORDS[edit.edit]} {self.told(chosen)}: now {', '.join(what)}"

    def _reorder(self, edit: Reorder) -> tuple[list[Part], str]:
        chosen = self.chosen(edit.shots)
        rest = [part for i, part in enumerate(self.parts) if i not in chosen]
        before = None if edit.before is None else self.find(edit.before)
        if before in chosen:
            raise Refused(
                "A shot can't go before itself.", "Choose another one, or none for the end.", field="before"
            )
        to = len(rest) if before is None else rest.index(self.parts[before])
        moved = [self.parts[i] for i in chosen]
        where = "to the end" if before is None else f"before {self.parts[before].shot.name}"
        return [*rest[:to], *moved, *rest[to:]], f"Moved {self.told(chosen)} {where}"


def _lead_said(lead: int) -> str:
    if not lead:
        return "comes with the picture's"
    return f"leads the picture by {lead} f" if lead > 0 else f"trails the picture by {-lead} f"


def _runs(chosen: Sequence[int]) -> Iterator[tuple[int, int]]:
    """First and last of each run of neighbours."""
    first = last = chosen[0]
    for i in chosen[1:]:
        if i != last + 1:
            yield first, last
            first = i
        last = i
    yield first, last
