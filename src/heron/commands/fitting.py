"""What every command on a camera's glass shares: keys are asked for on purpose, and a lens has limits."""

from heron.commands.base import Outcome, title
from heron.curves import Channel
from heron.errors import BadInput, BeyondLens, Refused
from heron.scene import Camera, Scene, replace
from heron.scene.limits import breaches


def rest_of(camera: Camera, name: str, value: float) -> Channel:
    """A channel without keys at a new value, given as it is shown.

    Raises:
        Refused: it has keys.
    """
    spec, channel = camera.spec(name), camera.channel(name)
    if channel.keys:
        raise Refused(
            f"{title(camera)} has keys on its {spec.label.lower()}.", "Set a key on it instead.", field=name
        )
    wrong = spec.complaint(value)
    if wrong:
        raise BadInput(f"{wrong}.", "Correct it and send it again.", field=name)
    return channel.at_rest(spec.kept(value))


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
