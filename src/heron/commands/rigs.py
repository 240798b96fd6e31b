"""Commands on rig layers: put on, changed, taken off, ordered, turned into keys, copied."""

from typing import Any, Literal

from pydantic import Field, ValidationError

from heron.bake import draft
from heron.bake.cameras import rig_context
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.keys import NewKey, SetKeys, check_frame
from heron.commands.solve_missing import solve_missing
from heron.curves import Channel
from heron.errors import BadInput, NotFound, Refused, from_validation
from heron.model import Id, Metres, changed, new_id
from heron.optics import KitLens
from heron.rigs.describe import clause
from heron.rigs.rail import curve
from heron.rigs.stack import run
from heron.scene import Camera, Scene, find, replace
from heron.scene.document import called, rings, spot_called
from heron.scene.layers import STAGES, AnyLayer, Arm, Carrier, Layer, Rail, SizeHold, in_order
from heron.scene.limits import mounted_lens
from heron.scene.links import links, renamed
from heron.timebase.frames import FrameNumber


def layer_of(camera: Camera, id_: str) -> Any:
    """A layer of a camera.

    Raises:
        NotFound: it has none of that id.
    """
    for layer in camera.layers:
        if layer.id == id_:
            return layer
    raise NotFound(
        f"Camera {camera.letter} has no layer {id_}.",
        "It may have been taken off; choose another.",
        field="layer",
    )


def open_layer(scene: Scene, camera: Id, id_: Id) -> tuple[Camera, Any]:
    """A camera and a layer of it that may be changed.

    Raises:
        Refused: one of them is locked.
    """
    found = open_camera(scene, camera)
    layer = layer_of(found, id_)
    if layer.locked:
        raise Refused(
            f"The {layer.kind} of camera {found.letter} is locked.",
            "Unlock it on the card first.",
            field="layer",
        )
    return found, layer


def having(camera: Camera, layers: list[Any]) -> Camera:
    """The camera with other layers, in the order in which they run."""
    return changed(camera, layers=tuple(in_order(tuple(layers))))


class AddLayer(Command):
    """Put a layer on a camera. Numbers left out are read off the camera at a frame, so that it stays where it is there.

    A carrier's camera can be mounted at a place on the stage instead, looking as it looks now.
    """

    kind: Literal["rig.add"] = "rig.add"
    camera: Id
    layer: AnyLayer
    #: That frame; left out, the layer's first.
    at: FrameNumber | None = None
    mount: tuple[Metres, Metres, Metres] | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        if self.at is not None:
            check_frame(scene, self.at)
        if self.mount is not None and not isinstance(self.layer, Carrier):
            raise BadInput("Only a ride is mounted at a place.", "Leave the place out.", field="mount")
        if any(layer.id == self.layer.id for layer in camera.layers):
            raise Refused(
                f"Camera {camera.letter} has a layer {self.layer.id} already.",
                "Give the new one another id.",
                field="layer",
            )
        refuse_itself(camera, self.layer)
        there = set(scene.items())
        for link in _named(self.layer):
            if link not in there:
                raise NotFound(
                    "The subject of this layer is not in the scene.",
                    "It may have been deleted; choose another.",
                    field="layer",
                )
        scene, camera, fit = _lens_for(scene, camera, self.layer)
        trial = replace(scene, "cameras", having(camera, [*camera.layers, self.layer]))
        refuse_loops(trial)
        bake = draft(scene)
        given = set(self.layer.model_fields_set)
        layer, remarks = solve_missing(bake, self._mounted(camera), self.layer, given, self.at)
        after = having(camera, [*camera.layers, layer])
        said = f"{capital(called(camera))} {clause(layer, lambda spot: spot_called(scene, spot))}"
        notes = run(after, rig_context(bake, after)).notes
        told = [*fit, *remarks, *(f"at {frame}: {text}" for frame, text in notes if layer.kind != "breath")]
        return replace(scene, "cameras", after), said + (f"; {'; '.join(told[:3])}" if told else "")

    def _mounted(self, camera: Camera) -> Camera:
        """The camera as its numbers are read off: where it is, or at the place where it is mounted."""
        if self.mount is None:
            return camera
        place = {name: Channel(rest=v) for name, v in zip("xyz", self.mount, strict=True)}
        below = tuple(one for one in camera.layers if STAGES[one.kind] != STAGES["carrier"])
        return changed(camera, layers=below, **place)


class SetLayer(Command):
    """Change a layer: its fields by name, and its numbers, as they are shown."""

    kind: Literal["rig.set"] = "rig.set"
    camera: Id
    layer: Id
    fields: dict[str, Any] = Field(default_factory=dict, max_length=20)
    numbers: dict[str, float] = Field(default_factory=dict, max_length=20)
    #: Numbers that have keys get one here.
    frame: FrameNumber | None = None

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        layer = layer_of(camera, self.layer)
        if layer.locked and set(self.fields) != {"locked"}:
            open_layer(scene, self.camera, self.layer)
        new = self._with_fields(layer)
        keyed = [name for name in self.numbers if new.channel(name).keys] if self.frame is not None else []
        for name, value in self.numbers.items():
            if name in keyed:
                continue
            spec = new.spec(name)
            wrong = spec.complaint(value)
            if wrong:
                raise BadInput(f"{wrong}.", "Correct it and send it again.", field=name)
            channel = new.channel(name)
            if channel.keys:
                raise Refused(f"{spec.label} has keys.", "Set a key at this frame instead.", field=name)
            new = changed(new, **{name: channel.at_rest(value)})
        if new is layer and not keyed:
            raise BadInput(
                "Nothing to set was named.", "Name a field or a number of the layer.", field="layer"
            )
        refuse_itself(camera, new)
        layers = [new if one.id == layer.id else one for one in camera.layers]
        after = replace(scene, "cameras", having(camera, layers))
        refuse_loops(after)
        return self._keyed(after, keyed) if keyed else (after, self._said(scene, camera, new))

    def _keyed(self, scene: Scene, names: list[str]) -> Outcome:
        """Keys on numbers of the layer at the frame."""
        assert self.frame is not None
        keys = tuple(
            NewKey(
                thing=self.camera, channel=f"{self.layer}.{name}", frame=self.frame, value=self.numbers[name]
            )
            for name in names
        )
        return SetKeys(keys=keys).apply(scene)

    def _with_fields(self, layer: Any) -> Any:
        barred = {"id", "kind", *(spec.name for spec in layer.CHANNELS)} & set(self.fields)
        unknown = set(self.fields) - set(type(layer).model_fields)
        if barred or unknown:
            name = min(barred | unknown)
            raise BadInput(
                f"A {layer.kind} has no field {name!r:.40} to set.", "Name one of its fields.", field="layer"
            )
        if not self.fields:
            return layer
        try:
            new = changed(layer, **self.fields)
            return run_as_before(layer, new) if isinstance(new, Rail) else new
        except ValidationError as error:
            raise from_validation(error, f"The {layer.kind}") from None

    def _said(self, scene: Scene, camera: Camera, layer: Any) -> str:
        who = capital(called(camera))
        if self.fields == {"off": True}:
            return f"Switched {called(camera)}'s {layer.kind} off"
        if self.fields == {"off": False}:
            return f"Switched {called(camera)}'s {layer.kind} on"
        if set(self.fields) == {"locked"}:
            return f"{'Locked' if layer.locked else 'Unlocked'} {called(camera)}'s {layer.kind}"
        if self.numbers and not self.fields:
            told = ", ".join(
                f"{layer.spec(n).label.lower()} {layer.spec(n).said(round(v, 4))}"
                for n, v in self.numbers.items()
            )
            return f"Set {called(camera)}'s {layer.kind}: {told}"
        return f"{who} {clause(layer, lambda spot: spot_called(scene, spot))}"


class TakeLayer(Command):
    """Take a layer off; the camera is again where it would be without it."""

    kind: Literal["rig.take"] = "rig.take"
    camera: Id
    layer: Id

    def apply(self, scene: Scene) -> Outcome:
        camera, layer = open_layer(scene, self.camera, self.layer)
        after = having(camera, [one for one in camera.layers if one.id != layer.id])
        return replace(scene, "cameras", after), f"Took the {layer.kind} off {called(camera)}"


class OrderLayer(Command):
    """Move a layer up or down among those of its kind's place in the order."""

    kind: Literal["rig.order"] = "rig.order"
    camera: Id
    layer: Id
    by: int = Field(ge=-64, le=64)

    def apply(self, scene: Scene) -> Outcome:
        camera, layer = open_layer(scene, self.camera, self.layer)
        same = [one for one in in_order(camera.layers) if STAGES[one.kind] == STAGES[layer.kind]]
        at = same.index(layer)
        to = min(max(at + self.by, 0), len(same) - 1)
        if to == at:
            raise Refused(
                f"The {layer.kind} cannot go farther that way.",
                "Layers are ordered within their kind.",
                field="layer",
            )
        same.insert(to, same.pop(at))
        others = [one for one in camera.layers if STAGES[one.kind] != STAGES[layer.kind]]
        after = having(camera, [*others, *same])
        return replace(
            scene, "cameras", after
        ), f"Moved the {layer.kind} of {called(camera)} {'down' if to > at else 'up'}"


class CopyRig(Command):
    """Put a camera's layers on another one, or on another subject: `instead` names whom for whom."""

    kind: Literal["rig.copy"] = "rig.copy"
    camera: Id
    to: Id
    instead: dict[Id, Id] = Field(default_factory=dict, max_length=50)

    def apply(self, scene: Scene) -> Outcome:
        source: Camera = find(scene, "cameras", self.camera)
        target = open_camera(scene, self.to)
        if not source.layers:
            raise Refused(
                f"Camera {source.letter} has no layers to copy.", "Choose one that has.", field="camera"
            )
        said = f"Gave {called(target)} the rig of {called(source)}"
        return give_rig(scene, source, target, self.instead), said

    def reads(self) -> frozenset[str]:
        return frozenset({self.camera})


def give_rig(scene: Scene, source: Camera, target: Camera, instead: dict[Id, Id]) -> Scene:
    """A camera with the layers of another one; what is locked on it stays as it is. `instead` names whom for whom.

    Raises:
        Refused: it would depend on itself.
    """
    kept = [layer for layer in target.layers if layer.locked]
    given = [layer for layer in source.layers if layer not in kept]
    layers = [changed(renamed(layer, instead), id=new_id("lay")) for layer in given]
    after = replace(scene, "cameras", having(target, [*kept, *layers]))
    refuse_loops(after)
    return after


def run_as_before(was: Rail, now: Rail) -> Rail:
    """A rail of another shape that is run as the old one was: what was a share of its length along still is."""
    if was.points == now.points:
        return now
    by = curve(now.points).length / curve(was.points).length
    return changed(now, metres=now.metres.mapped(lambda v: v * by))


def _named(layer: Layer) -> list[str]:
    return [link.id for link in links(layer)]


def refuse_itself(camera: Camera, layer: Layer) -> None:
    """A camera takes other subjects.

    Raises:
        Refused: the layer names the camera it is on.
    """
    for link in links(layer):
        if link.id == camera.id:
            raise Refused(
                f"{capital(called(camera))} would depend on itself: no camera {link.role.verb} itself.",
                "Point at something else.",
                field="layer",
            )


def refuse_loops(scene: Scene) -> None:
    """Before anything is computed that would wait for itself.

    Raises:
        Refused: naming the loop.
    """
    for told in rings(scene):
        raise Refused(
            f"{told[0].upper()}{told[1:]}.", "Choose another subject for one of them.", field="layer"
        )


def _lens_for(scene: Scene, camera: Camera, layer: Any) -> tuple[Scene, Camera, list[str]]:
    """A lens that can answer for a size: on a prime, the kit's zoom that covers it, else any focal length will do."""
    if not isinstance(layer, SizeHold) or layer.answers != "lens":
        if isinstance(layer, SizeHold) and not any(isinstance(one, Arm) for one in camera.layers):
            raise Refused(
                "Only an arm's reach can answer for a size.",
                "Put an arm on the camera first, or let the lens answer.",
                field="answers",
            )
        return scene, camera, []
    lens = mounted_lens(scene, camera)
    if lens is None or not lens.prime:
        return scene, camera, []
    low, high = camera.focal.span
    zoom: KitLens | None = next(
        (one for one in scene.lenses if not one.prime and one.shortest_mm <= low and high <= one.longest_mm),
        None,
    )
    stop = camera.aperture
    if zoom is not None and camera.stop(stop.span[0]) < zoom.widest:
        stop = stop.mapped(lambda v: max(v, camera.spec("aperture").kept(zoom.widest)))
    new = changed(camera, mounted=zoom.id if zoom else None, aperture=stop)
    told = (
        f"it takes {zoom.name}, for a prime cannot answer"
        if zoom
        else "its prime comes off, for it cannot answer: the lens is forced"
    )
    return replace(scene, "cameras", new), new, [told]
