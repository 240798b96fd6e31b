"""Changes that take a note away: tried, the smallest first, and offered only if they do and bring no heavier one."""

from collections.abc import Iterator, Sequence
from itertools import chain

import numpy as np

from heron.bake import draft
from heron.commands.cut_remedies import remedies_of_cut
from heron.commands.focusing import SetFocus
from heron.commands.glass import MountLens, SetGlass
from heron.commands.registry import AnyCommand, DressShot
from heron.commands.things import MoveThings
from heron.commands.tried import Tried, nearer, offered, pan_tilt, put
from heron.framing.composing import aimed, swung
from heron.model import Id, wrap_degrees
from heron.notes.note import Note, Remedy
from heron.notes.of_camera import judged, notes_of_camera, weight
from heron.notes.subject import Subject
from heron.notes.views import AT, Floats
from heron.scene import Camera, Scene, find
from heron.scene.own import dressed
from heron.stage.figure import Figure
from heron.stage.piece import Piece
from heron.stage.reference import OnFigure
from heron.timebase import Frames

#: A change is tried on so many frames before and after the worst.
_ROUND_F = 4
#: At most this much of other notes may come with it.
_BRINGS = 0.15
#: As many are offered.
_MOST = 3
#: What is tried, the least first: degrees round the eyes; where the eyes go, from the upper edge; and clean cuts of a body.
_SWINGS = (3, -3, 5, -5, 8, -8, 12, -12, 16, -16, 22, -22)
_EYES = (0.33, 0.30, 0.36, 0.27)
_CUTS = (0.755, 0.672, 0.575, 0.43, 0.18)
#: Nearer, past what is in the way.
_PAST = (0.8, 0.6, 0.45)
_ASIDE = (0.12, 0.2, 0.33)
#: What going round somebody helps against, what moving a thing or them aside does, and what going up or down does; by so many metres.
_ROUND = ("growing-out", "heads-overlap", "face-hidden", "foreground", "merges")
_AWAY, _BY_ASIDE_M = (
    ("growing-out", "face-hidden", "foreground", "heads-overlap"),
    (0.2, -0.2, 0.4, -0.4, 0.7, -0.7),
)
_BOOM, _BY_M = ("line-through-head", "merges", "separation"), (0.12, -0.12, 0.25, -0.25, 0.45, -0.45)


def remedies_of(scene: Scene, note: Note, most: int = _MOST, shot: Id | None = None) -> list[Remedy]:
    """What takes a note away; where nothing does, there is none.

    Args:
        shot: whose frames it is of: what it has for itself counts, and a piece can be moved for it alone.
    """
    if note.camera is None:
        return remedies_of_cut(scene, note, most)
    camera = next(one for one in scene.cameras if one.letter == note.camera)
    near = Frames(first=max(note.worst - _ROUND_F, note.first), last=min(note.worst + _ROUND_F, note.last))
    over = Frames(first=note.first, last=note.last)

    def stage(one: Scene) -> Scene:
        return one if shot is None else dressed(one, find(one, "shots", shot))

    allowed = sum(_weights(stage(scene), camera, over, note.kind).values()) + _BRINGS

    def left(after: Scene) -> dict[str, float] | None:
        # First where it is worst; what helps there, over all of it.
        said: dict[str, float] = {}
        for span in (near, over):
            said = _weights(stage(after), find(after, "cameras", camera.id), span, None)
            if note.kind in said:
                return None
        return said

    there = stage(scene)
    tried = chain(_candidates(there, camera, note), _nudges(there, camera, note, shot))
    return offered(scene, tried, left, allowed, most)


def _weights(scene: Scene, camera: Camera, frames: Frames, without: str | None) -> dict[str, float]:
    """How much of each kind is said of some frames, over what is not worth saying."""
    out: dict[str, float] = {}
    for note in notes_of_camera(draft(scene), camera, frames, scene.noting.thresholds):
        if note.kind != without and note.kind not in scene.noting.silent:
            out[note.kind] = max(out.get(note.kind, 0.0), weight(note))
    return out


def _candidates(scene: Scene, camera: Camera, note: Note) -> Iterator[Tried]:
    about = judged(draft(scene), camera, Frames(first=note.worst, last=note.worst))
    if note.kind == "roll":
        yield "Level the camera", [put(camera, note.worst, roll=0.0)]
        return
    place = about.seen.place[0]
    if note.kind in ("inside", "near-plane", "under-floor"):
        yield from _out_of(camera, note, place, about.seen.axes[0])
        return
    if about.who[0] < 0:
        return
    one = about.people[about.who[0]]
    eyes, at = one.marks[0, AT["eyes"]], about.placed("eyes")[0]
    name, figure = one.figure.name, one.figure.id
    down = (1 - at[1]) / 2
    if note.kind == "focus":
        yield (
            f"Focus on {name}'s eyes",
            [SetFocus(camera=camera.id, on=OnFigure(figure=figure, joint="eyes"), frame=note.worst)],
        )
    elif note.kind == "lens":
        now = float(about.seen.focal[0])
        for lens in sorted(scene.lenses, key=lambda one: abs(np.log(one.shortest_mm / now))):
            yield (
                f"Mount the {lens.name}, {name} as large as now",
                [MountLens(camera=camera.id, lens=lens.id, keep="size", frame=note.worst, figure=figure)],
            )
    elif note.kind in ("joint-cut", "feet-cut", "too-small"):
        yield from nearer(camera, note.worst, place, eyes, _factors(about.cut[0], about.share[0], note.kind))
    elif note.kind in ("headroom-low", "headroom-high", "thirds", "touching-edge"):
        for e in sorted(_EYES, key=lambda e: abs(e - down)):
            yield from _look(camera, note, about, eyes, (float(at[0]), 1 - 2 * e))
        yield from nearer(camera, note.worst, place, eyes, (1.08, 1.2, 1.35))
    elif note.kind == "looking-room":
        way = -float(np.sign(about.gaze[0, 0]))
        for x in _ASIDE:
            yield from _look(camera, note, about, eyes, (way * x, float(at[1])))
    if note.kind in _ROUND:
        for degrees in _SWINGS:
            to = swung(place, eyes, degrees)
            pan = pan_tilt(about.seen.axes[0])[0] + degrees
            yield (
                f"Swing the camera {abs(degrees)}° {'left' if degrees < 0 else 'right'} round {name}",
                [put(camera, note.worst, x=to[0], z=to[2], pan=pan)],
            )
    if note.kind in _BOOM:
        yield from _boom(camera, note, about, eyes, (float(at[0]), float(at[1])))
    if note.kind in ("growing-out", "heads-overlap", "face-hidden", "foreground"):
        yield from nearer(camera, note.worst, place, eyes, _PAST)
    if note.kind in ("growing-out", *_BOOM):
        for stop in (0.7, 0.5, 0.33):
            value = round(max(float(about.seen.aperture[0]) * stop, 1.4), 1)
            yield f"Open the lens to f/{value:g}", [SetGlass(camera=camera.id, aperture=value)]


def _nudges(scene: Scene, camera: Camera, note: Note, shot: Id | None) -> Iterator[Tried]:
    """A piece that is in the way moved aside, for the shot alone where it is of one; else whom it is about."""
    if note.kind not in _AWAY:
        return
    right = judged(draft(scene), camera, Frames(first=note.worst, last=note.worst)).seen.axes[0, 0]
    pieces = [one for one in scene.visible.pieces if one.name in note.by[:1] and not one.locked]
    people = [one for one in scene.visible.figures if one.name in note.who[:1]]
    alone = f", for {find(scene, 'shots', shot).name} alone" if shot else ""
    moved: list[tuple[Piece | Figure, str]] = [(one, alone) for one in pieces[:1]]
    moved += [(one, "") for one in people[:1]]
    for thing, words in moved:
        for by in _BY_ASIDE_M:
            move = MoveThings(ids=(thing.id,), dx=round(by * right[0], 3), dz=round(by * right[2], 3))
            command: AnyCommand = move
            if words and shot:
                command = DressShot(shot=shot, command=move.model_dump(mode="json"))
            yield f"Move {thing.name} {abs(by):g} m to the {'right' if by > 0 else 'left'}{words}", [command]


def _look(
    camera: Camera, note: Note, about: Subject, eyes: Floats, at: tuple[float, float]
) -> Iterator[Tried]:  # fmt: skip
    """Turned where it stands, so that the eyes go to a place of the frame."""
    found = aimed(about.seen.place[0], eyes, at, about.seen.half[0])
    if found is None:
        return
    pan, tilt = found
    was = pan_tilt(about.seen.axes[0])
    right, up = -wrap_degrees(pan - was[0]), tilt - was[1]
    turns = f"Pan {abs(right):.1f}° {'right' if right > 0 else 'left'}"
    if note.kind != "looking-room":
        turns = f"Tilt {'up' if up > 0 else 'down'} {abs(up):.1f}°"
    yield turns, [put(camera, note.worst, pan=was[0] - right, tilt=tilt)]


def _factors(cut: float, share: float, kind: str) -> Sequence[float]:
    """By what factor the distance changes for a clean cut, the least change first; or until it can be read."""
    if kind == "too-small":
        return [share / wanted for wanted in (0.12, 0.2)]
    factors = [(0.936 - clean) / max(0.936 - cut, 1e-3) for clean in _CUTS]
    whole = share / 0.72
    return sorted([*factors, whole], key=lambda f: abs(np.log(max(f, 1e-3))))


def _boom(
    camera: Camera, note: Note, about: Subject, eyes: Floats, at: tuple[float, float]
) -> Iterator[Tried]:  # fmt: skip
    """Higher or lower, turned so that the eyes stay where they are in the frame."""
    for by in _BY_M:
        to = about.seen.place[0] + [0.0, by, 0.0]
        found = aimed(to, eyes, at, about.seen.half[0])
        if found is not None:
            sentence = f"Move {'up' if by > 0 else 'down'} by {abs(by):g} m, the eyes where they are"
            yield sentence, [put(camera, note.worst, y=to[1], pan=found[0], tilt=found[1])]


def _out_of(camera: Camera, note: Note, place: Floats, axes: Floats) -> Iterator[Tried]:
    """Out of what it stands in: back, aside, and up."""
    if note.kind == "under-floor":
        for high in (0.1, 0.3, 0.6):
            yield f"Move up to {high:g} m over the floor", [put(camera, note.worst, y=high)]
        return
    for far in (0.5, 0.9, 1.4, 2.0):
        for way, word in (
            (axes[2], "back"),
            (axes[0], "to the right"),
            (-axes[0], "to the left"),
            (-axes[2], "ahead"),
        ):
            level = way * [1, 0, 1]
            to = place + far * level / max(float(np.linalg.norm(level)), 1e-6)
            yield f"Move {far:g} m {word}", [put(camera, note.worst, x=to[0], z=to[2])]
