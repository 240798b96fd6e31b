"""Commands on shots. Each edit is drawn in its docstring, gaps as dots."""

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from heron.commands.base import Command, Outcome, refuse_taken
from heron.cut import lay_out
from heron.cut.shot_csv import read_shots
from heron.model import Id, Name, NoteText, changed, new_id
from heron.scene import Scene, Shot, find, replace
from heron.scene.shot import BoardKey
from heron.timebase import MAX_FRAMES, Frames, parse_rate
from heron.timebase.frames import FrameNumber

#: The longest a shot is made unasked, seconds: common practice for a first assembly.
USUAL_SHOT_S = 5


def next_name(shots: tuple[Shot, ...], after: int | None = None) -> str:
    """A free shot name: tens in a row, or a number between two shots."""
    taken = {shot.name for shot in shots}
    numbers = [int(s.name) for s in shots if s.name.isdigit()]
    if after is not None and shots[after].name.isdigit():
        low = int(shots[after].name)
        higher = [n for n in numbers if n > low]
        step = (min(higher) - low) // 2 if higher else 10
        if step and f"{low + step:03d}" not in taken:
            return f"{low + step:03d}"
    number = (max(numbers, default=0) // 10 + 1) * 10
    while f"{number:03d}" in taken:
        number += 10
    return f"{number:03d}"


def lift_out(shots: tuple[Shot, ...], id_: str, *, leave_gap: bool) -> tuple[Shot, ...]:
    """The shots without one; with a gap, those after it stay where they are."""
    at = next(i for i, s in enumerate(shots) if s.id == id_)
    out = list(shots)
    gone = out.pop(at)
    if at < len(out):
        kept = gone.gap_before + (gone.stage.count if leave_gap else 0)
        out[at] = changed(out[at], gap_before=out[at].gap_before + kept)
    return tuple(out)


def usual_count(scene: Scene) -> int:
    """How many frames a shot has whose length nobody said."""
    return round(USUAL_SHOT_S * float(parse_rate(scene.rate)))


def _place_of(scene: Scene, before: str | None) -> int:
    """Where in the order a shot goes that comes before another, or last."""
    return len(scene.shots) if before is None else scene.shots.index(find(scene, "shots", before))


class AddShot(Command):
    """Put a camera's view of a stage range into the cut; without a camera, a slate.

    before:  |010|020|      before 020:  |010|new|020|      left out:  |010|020|new|

    Without a range it begins at the playhead if no shot shows that frame, else where the last shot ended; and
    goes on to the next frame that is shown already or to the scene's last, for five seconds at most. Where the
    last shot ends with the scene, it begins at the playhead all the same.
    """

    kind: Literal["shot.add"] = "shot.add"
    id: Id = Field(default_factory=lambda: new_id("shot"))
    camera: Id | None = None
    stage: Frames | None = None
    #: The shot it comes before; left out, it comes last.
    before: Id | None = None
    name: Name | None = None
    #: The stage frame the playhead is on.
    playhead: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = None if self.camera is None else find(scene, "cameras", self.camera)
        at = _place_of(scene, self.before)
        if self.name is not None:
            refuse_taken(scene, "shots", self.name)
        name = self.name or next_name(scene.shots, at - 1 if 0 < at < len(scene.shots) else None)
        stage = self._fitting(scene) if camera else Frames(first=1, last=usual_count(scene))
        if self.stage is not None:
            stage = self.stage
        shot = Shot(id=self.id, name=name, camera=self.camera, stage=stage)
        shots = (*scene.shots[:at], shot, *scene.shots[at:])
        what = f"on camera {camera.letter}, {stage}" if camera else "as a slate"
        return scene.having(shots=shots), f"Added shot {name} {what} ({stage.count} f)"

    def _fitting(self, scene: Scene) -> Frames:
        """A range that fits what is there."""
        shown, last = [shot.stage for shot in scene.shots], scene.frames.last
        fps = round(float(parse_rate(scene.rate)))
        asked = scene.frames.first if self.playhead is None else self.playhead
        first = asked
        if first not in scene.frames or any(first in stage for stage in shown):
            first = shown[-1].last + 1 if shown else scene.frames.first
        until = min([stage.first - 1 for stage in shown if stage.first > first], default=last)
        if first > last:
            # The cut shows the stage to its end: this camera shows the action again, for a second or more.
            first, until = max(min(asked, last - fps + 1), scene.frames.first), last
        return Frames(first=first, last=min(until, last, first + usual_count(scene) - 1))


class ListShots(Command):
    """Put the shots of a list (CSV) at the end of the cut, as slates: a name, a length, a line of text, a picture."""

    kind: Literal["shots.list"] = "shots.list"
    csv: Annotated[str, Field(max_length=4_000_000)]
    #: By the names that the list has for them, the keys of pictures.
    boards: dict[str, BoardKey] = Field(default_factory=dict, max_length=5000)
    #: What the new shots are called by: this with a number.
    id: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,34}$")] = Field(
        default_factory=lambda: new_id("list")
    )

    def apply(self, scene: Scene) -> Outcome:
        listed = read_shots(
            self.csv, parse_rate(scene.rate), {shot.name for shot in scene.shots}, self.boards
        )
        new = tuple(
            Shot(
                id=f"{self.id}-{n}",
                name=one.name,
                stage=Frames(first=1, last=one.frames),
                note=one.text,
                board=self.boards.get(one.picture, ""),
            )
            for n, one in enumerate(listed, 1)
        )
        frames = sum(one.frames for one in listed)
        many = "" if len(new) == 1 else "s"
        return scene.having(
            shots=(*scene.shots, *new)
        ), f"Brought in {len(new)} shot{many} from a list ({frames} f)"


class MoveShot(Command):
    """Move a shot to another place in the order.

    before:  |010|020|030|      020 before 010:  |020|010|030|      left out:  |010|030|020|
    """

    kind: Literal["shot.move"] = "shot.move"
    shot: Id
    #: The shot it comes before; left out, it comes last.
    before: Id | None = None

    def apply(self, scene: Scene) -> Outcome:
        shot: Shot = find(scene, "shots", self.shot)
        if self.before == shot.id:
            return scene, f"Left shot {shot.name} where it was"
        others = [s for s in scene.shots if s.id != shot.id]
        to = _place_of(scene.having(shots=tuple(others)), self.before)
        shots = (*others[:to], shot, *others[to:])
        where = f"before {shots[to + 1].name}" if to + 1 < len(shots) else "to the end"
        return scene.having(shots=shots), f"Moved shot {shot.name} {where}"


class SetShot(Command):
    """Change a shot's camera, its name, the black before it, the note on it, its board, or whether it stays."""

    kind: Literal["shot.set"] = "shot.set"
    shot: Id
    camera: Id | None = None
    name: Name | None = None
    gap_before: int | None = Field(default=None, ge=0, le=MAX_FRAMES)
    note: NoteText | None = None
    #: The key of a picture; empty takes it off.
    board: BoardKey | None = None
    #: Whether it stays as it is when the cut is assembled again.
    stays: bool | None = None

    def apply(self, scene: Scene) -> Outcome:
        shot: Shot = find(scene, "shots", self.shot)
        said: list[str] = []
        update: dict[str, Any] = {}
        if self.note is not None and self.note != shot.note:
            update["note"] = self.note
            said.append(f"{'Noted on' if self.note else 'Took the note off'} shot {shot.name}")
        if self.board is not None and self.board != shot.board:
            update["board"] = self.board
            said.append(f"{'Put a board on' if self.board else 'Took the board off'} shot {shot.name}")
        if self.stays is not None and self.stays != shot.stays:
            update["stays"] = self.stays
            said.append(
                f"Shot {shot.name} {'stays' if self.stays else 'may change'} when the cut is assembled again"
            )
        if self.camera is not None:
            camera = find(scene, "cameras", self.camera)
            update["camera"] = camera.id
            said.append(f"Put shot {shot.name} on camera {camera.letter}")
        if self.name is not None:
            refuse_taken(scene, "shots", self.name, shot.id)
            update["name"] = self.name
            said.append(f"Renamed shot {shot.name} to {self.name}")
        if self.gap_before is not None:
            update["gap_before"] = self.gap_before
            said.append(
                f"Left {self.gap_before} black frames before shot {shot.name}"
                if self.gap_before
                else f"Closed the gap before shot {shot.name}"
            )
        return replace(scene, "shots", changed(shot, **update)), "; ".join(
            said
        ) or f"Shot {shot.name} is unchanged"


class DeleteShot(Command):
    """Take a shot out of the cut.

    before:  |010|020|030|      |010|030|      leaving a gap:  |010|...|030|
    """

    kind: Literal["shot.delete"] = "shot.delete"
    shot: Id
    leave_gap: bool = False

    def apply(self, scene: Scene) -> Outcome:
        shot: Shot = find(scene, "shots", self.shot)
        shots = lift_out(scene.shots, shot.id, leave_gap=self.leave_gap)
        tail = ", leaving a gap" if self.leave_gap and lay_out(scene)[-1].shot.id != shot.id else ""
        return scene.having(shots=shots), f"Deleted shot {shot.name}{tail}"
