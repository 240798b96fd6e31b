"""Changes of a camera that are tried: a sentence, and the commands."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any

import numpy as np

from heron.bake import draft
from heron.commands.focusing import SetFocus
from heron.commands.glass import MountLens
from heron.commands.registry import AnyCommand, run
from heron.commands.things import PutThing
from heron.errors import HeronError
from heron.notes.note import Remedy
from heron.notes.of_camera import judged
from heron.scene import Camera, Scene, find
from heron.stage.reference import OnFigure
from heron.timebase import Frames

Floats = np.ndarray[Any, np.dtype[np.float64]]
Tried = tuple[str, list[AnyCommand]]


def pan_tilt(axes: Floats) -> tuple[float, float]:
    """Degrees: where a camera looks whose axes are rows to the right, up and back, (3, 3)."""
    return float(np.degrees(np.arctan2(axes[2, 0], axes[2, 2]))), float(np.degrees(np.arcsin(-axes[2, 1])))


def put(camera: Camera, frame: int, **to: Any) -> PutThing:
    """Be there at a frame, with the whole path where it has one."""
    moves = any(camera.channel(name).keys for name in ("x", "y", "z", "pan", "tilt", "roll"))
    where = {name: round(float(value), 4) for name, value in to.items()}
    return PutThing(thing=camera.id, frame=frame, keep="path" if moves else "rest", **where)


def nearer(
    camera: Camera, frame: int, place: Floats, eyes: Floats, factors: Sequence[float]
) -> Iterator[Tried]:  # fmt: skip
    """Along the line of sight to the eyes, so that they stay where they are in the frame."""
    for factor in factors:
        to = eyes + factor * (place - eyes)
        far = float(np.linalg.norm(to - eyes))
        if far < 0.4 or abs(factor - 1) < 0.01:
            continue
        word = "in" if factor < 1 else "back"
        yield (
            f"Move {word} to {far:.2f} m from the eyes",
            [put(camera, frame, x=to[0], y=to[1], z=to[2])],
        )


def offered(
    scene: Scene, candidates: Iterable[Tried], left: Callable[[Scene], dict[str, float] | None], allowed: float, most: int
) -> list[Remedy]:  # fmt: skip
    """The first of some changes that help.

    Where all that one brings is that a face goes soft, it is tried with the focus on that face as well.

    Args:
        left: what is said after a change, by kind, and how much it weighs; None where the change does not help.
        allowed: how much that may weigh.
    """
    found: list[Remedy] = []
    for sentence, commands in candidates:
        if len(found) == most:
            break
        for words, tried in (
            (sentence, commands),
            (f"{sentence}, and focus there", [*commands, *_focus(scene, commands)]),
        ):
            if words != sentence and len(tried) == len(commands):
                continue
            try:
                after, _ = run(scene, tried)
            except HeronError:
                break
            said = left(after)
            if said is None:
                break
            if sum(said.values()) <= allowed:
                plain = [one.model_dump(mode="json", exclude_none=True) for one in tried]
                found.append(Remedy(sentence=words, commands=tuple(plain)))
                break
            if "focus" not in said:
                break
    return found


def _focus(scene: Scene, commands: list[AnyCommand]) -> list[AnyCommand]:
    """The focus on whom the picture is about, of the camera that is put somewhere."""
    command = commands[0]
    if not isinstance(command, PutThing | MountLens):
        return []
    id_, frame = (
        (command.thing, command.frame) if isinstance(command, PutThing) else (command.camera, command.frame)
    )
    camera = find(scene, "cameras", id_)
    if frame is None or isinstance(camera.focus.in_force(frame), OnFigure):
        return []
    about = judged(draft(scene), camera, Frames(first=frame, last=frame))
    if about.who[0] < 0:
        return []
    on = OnFigure(figure=about.people[about.who[0]].figure.id, joint="eyes")
    return [SetFocus(camera=id_, on=on, frame=frame)]
