"""What every command on a camera's glass shares: keys are asked for on purpose, and a lens has limits."""

from heron.commands.base import Outcome, title
from heron.curves import Channel
from heron.errors import BeyondLens, Refused
from heron.scene import Camera, Scene, replace
from heron.scene.limits import breaches

WORDS = {"focal": "focal length", "aperture": "stop", "exposure": "exposure"}


def rest_of(camera: Camera, name: str, value: float) -> Channel:
    """A channel without keys at a new value.

    Raises:
        Refused: it has keys.
    """
    if getattr(camera, name).keys:
        raise Refused(
            f"{title(camera)} has keys on its {WORDS[name]}.", "Set a key on it instead.", field=name
        )
    return Channel(rest=value)


def fitted(scene: Scene, before: Camera, after: Camera, said: str, *, force: bool) -> Outcome:
    """The scene with a camera changed, if its lens can do what is newly asked, or it is forced.

    Raises:
        BeyondLens: naming the first thing the lens cannot do.
    """
    old = breaches(scene, before)
    new = [breach for breach in breaches(scene, after) if breach not in old]
    if new and not force:
        raise BeyondLens(
            f"{new[0][0].upper()}{new[0][1:]}.", "Choose another lens, or force it.", field="force"
        )
    return replace(scene, "cameras", after), f"{said}, forced" if new else said
