"""What every command on a camera's glass shares: keys are asked for on purpose, and a lens has limits."""

from typing import Any

from heron.commands.base import Outcome, title
from heron.curves import Channel
from heron.errors import Alternative, BadInput, BeyondLens, Refused
from heron.model import changed
from heron.optics.kit import reach_breach
from heron.scene import Camera, Scene, replace
from heron.scene.limits import breaches, mounted_lens


def with_value(camera: Camera, name: str, value: float, frame: int | None = None) -> Channel:
    """A channel at a new value, given as it is shown: its key on a frame has it, or, without keys, all of it.

    Raises:
        Refused: it has keys, and none on that frame.
    """
    spec, channel = camera.spec(name), camera.channel(name)
    key = None if frame is None else channel.key_at(frame)
    if channel.keys and key is None:
        raise Refused(
            f"{title(camera)} has keys on its {spec.label.lower()}.", "Set a key on it instead.", field=name
        )
    wrong = spec.complaint(value)
    if wrong:
        raise BadInput(f"{wrong}.", "Correct it and send it again.", field=name)
    if key is not None:
        return channel.with_keys(changed(key, value=spec.kept(value)))
    return channel.at_rest(spec.kept(value))


def key_said(camera: Camera, name: str, frame: int | None) -> str:
    """Behind a new value of a channel: the key that has it, if one has."""
    keyed = frame is not None and camera.channel(name).key_at(frame) is not None
    return f" on the key at {frame}" if keyed else ""


def fitted(scene: Scene, before: Camera, after: Camera, said: str, *, force: bool) -> Outcome:
    """The scene with a camera changed, if its lens can do what is newly asked, or it is forced.

    Raises:
        BeyondLens: naming the first thing the lens cannot do.
    """
    old = breaches(scene, before)
    new = [breach for breach in breaches(scene, after) if breach not in old]
    if new and not force:
        lens = mounted_lens(scene, after)
        focals = [key.value for key in after.focal.keys] or [after.focal.rest]
        if lens is None or not any(reach_breach(lens, focal) for focal in focals):
            focals = []
        raise BeyondLens(
            f"{new[0][0].upper()}{new[0][1:]}.",
            "Choose another lens, or force it.",
            field="force",
            camera=after.id,
            focals=tuple(focals),
        )
    return replace(scene, "cameras", after), f"{said}, forced" if new else said


def other_lenses(scene: Scene, command: Any, error: BeyondLens) -> tuple[Alternative, ...]:
    """What can be done about a lens that cannot: the kit's zoom that reaches so far, or forcing it."""
    asked = command.model_dump(mode="json", exclude_defaults=True) | {"kind": command.kind}
    camera = next((one for one in scene.cameras if one.id == error.camera), None)
    found = []
    zooms = [
        lens
        for lens in scene.lenses
        if not lens.prime
        and error.focals
        and lens.shortest_mm <= min(error.focals)
        and max(error.focals) <= lens.longest_mm
    ]
    if zooms and camera is not None and camera.mounted != zooms[0].id:
        zoom = min(zooms, key=lambda lens: lens.longest_mm - lens.shortest_mm)
        mount = {"kind": "camera.mount", "camera": camera.id, "lens": zoom.id}
        found.append(Alternative(f"Put the {zoom.name} on", (mount, asked)))
    return (*found, Alternative("Force it", ({**asked, "force": True},)))
