"""A run that was cut live, laid over the cut that is there."""

from bisect import bisect_right
from dataclasses import replace

from heron.commands.cut_editor import Editor
from heron.commands.cut_edits import Live
from heron.cut import Clocks, edits
from heron.cut.edits import Laid
from heron.cut.live import Press, taken
from heron.errors import BadInput, Refused
from heron.model import changed
from heron.scene.joins import Part


def cut_live(cut: Editor, edit: Live) -> tuple[list[Part], str]:
    """The cut with the angles of a run from a frame on, over the action that it shows there; black and slates stay.

    Raises:
        BadInput: it would begin outside the cut.
        Refused: nothing was pressed, or the cut shows no camera there.
    """
    clocks = Clocks(cut.scene)
    first, stop = edit.start, clocks.length if edit.to is None else min(edit.to + 1, clocks.length)
    if first >= stop:
        raise BadInput(
            f"The cut has no frame {first} to begin at: it is {clocks.length} frames long.",
            "Begin inside the cut.",
            field="start",
        )
    for p in clocks.placed if edit.to is not None else ():
        # Nothing shorter than a shot may be is left of the one that it ends in.
        if p.cut_first < stop <= p.cut_last and p.cut_last + 1 - stop < edit.shortest:
            stop = p.cut_last + 1
    presses = [Press(seconds, cut.camera(letter).id) for seconds, letter in sorted(edit.presses)]
    if not presses:
        raise Refused("No camera was pressed.", "Play, and press the letters of cameras.", field="presses")
    on_air = next(
        (p.shot.camera for p in clocks.placed if first <= p.cut_last and p.shot.camera is not None), None
    )
    if on_air is None:
        raise Refused("The cut shows no camera from there on.", "Begin where it shows one.", field="start")
    takes = taken(
        presses, on_air, first, stop, clocks.rate, speed=edit.speed, delay=edit.delay, shortest=edit.shortest
    )
    begins = [take.at for take in takes]
    pieces: list[Laid] = []
    for one in edits.laid_out(cut.parts):
        for piece in _cut_at(cut, one, [*begins, stop]):
            shot = piece.part.shot
            if first <= piece.at < stop and shot.camera is not None:
                shot = changed(shot, camera=takes[bisect_right(begins, piece.at) - 1].camera)
                piece = Laid(piece.at, replace(piece.part, shot=shot))
            inside = first <= piece.at <= stop
            joined = _joined(pieces[-1], piece) if pieces and inside else None
            pieces = [*pieces[:-1], joined] if joined else [*pieces, piece]
    letters = {camera.id: camera.letter for camera in cut.scene.cameras}
    told = ", ".join(f"{letters[one.camera]} from {one.at}" for one in takes[:8])
    more = f" and {len(takes) - 8} more" if len(takes) > 8 else ""
    return edits.in_order(pieces), f"Cut live from frame {first} of the cut: {told}{more}"


def _cut_at(cut: Editor, one: Laid, frames: list[int]) -> list[Laid]:
    """A shot in pieces, parted at cut frames; it goes on in the first of them."""
    out = []
    for frame in frames:
        if one.at < frame < one.stop and one.part.shot.camera is not None:
            head, tail = edits.head_of(one, frame), edits.tail_of(one, frame)
            assert head is not None and tail is not None
            out.append(head)
            one = Laid(tail.at, cut.copy_of(tail.part, gap=0))
    return [*out, one]


def _joined(one: Laid, two: Laid) -> Laid | None:
    """Two pieces as one, where the same camera goes on with the next frame of the stage."""
    a, b = one.part, two.part
    if a.shot.camera is None or a.shot.camera != b.shot.camera:
        return None
    if (
        one.stop != two.at
        or a.first + a.count != b.first
        or b.shot.dissolve
        or b.lead
        or b.shot.fade_in
        or a.shot.fade_out
    ):
        return None
    shot = (
        changed(a.shot, fade_out=b.shot.fade_out, fade_colour=b.shot.fade_colour)
        if b.shot.fade_out
        else a.shot
    )
    return Laid(one.at, replace(a, shot=shot, count=a.count + b.count))
