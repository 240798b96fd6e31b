"""A dolly zoom by hand: the lens goes with the distance, or the distance with the lens."""

from typing import Any, Literal

import numpy as np

from heron.bake import Bake, Samples, draft
from heron.commands.base import Command, Outcome, capital, open_camera
from heron.commands.fitting import fitted
from heron.commands.keys import check_frame, put_between
from heron.curves import Channel, Key
from heron.curves.simplify import simplified
from heron.errors import BadInput, Refused
from heron.framing import project
from heron.framing.seen import size_seen
from heron.model import Id
from heron.motion.signals import root_of
from heron.scene import Scene
from heron.scene.document import called, spot_called
from heron.scene.links import links
from heron.stage.reference import Spot
from heron.timebase.frames import FrameNumber

#: What a matched lens or distance may be off by: millimetres and metres.
_MATCH_MM, _MATCH_M = 0.02, 0.001
#: A size is the same within this share, after so many rounds at most.
_SAME, _ROUNDS = 1e-6, 20


class MatchZoom(Command):
    """A dolly zoom by hand: the lens goes with the distance over a range, or the distance with the lens, so that a
    subject keeps the size it has at its first frame.
    """

    kind: Literal["camera.match"] = "camera.match"
    camera: Id
    subject: Spot
    first: FrameNumber
    last: FrameNumber
    answers: Literal["lens", "distance"] = "lens"
    force: bool = False

    def apply(self, scene: Scene) -> Outcome:
        camera = open_camera(scene, self.camera)
        check_frame(scene, self.first)
        check_frame(scene, self.last)
        if self.last <= self.first:
            raise BadInput("A range ends after it begins.", "Give its first frame first.", field="last")
        bake = draft(scene)
        here = slice(self.first - scene.frames.first, self.last + 1 - scene.frames.first)
        samples = bake.samples(camera)
        at = bake.place(root_of(self.subject), scene.frames.array())
        depth, focal = project(samples, at).depth[here], samples.column("focal_mm")[here]
        who = spot_called(scene, root_of(self.subject))
        if not (depth > 0.05).all():
            raise Refused(
                f"{capital(who)} is not in front of {called(camera)} all that time.",
                "Choose another range.",
                field="first",
            )
        size = size_seen(bake, samples, root_of(self.subject))[here]
        new: dict[str, Channel]
        if self.answers == "lens":
            new = {"focal": _put(camera.focal, self.first, focal * size[0] / size, _MATCH_MM)}
        else:
            if any(layer.kind in ("carrier", "trail", "arm", "rail", "flight") for layer in camera.layers):
                raise Refused(
                    f"{capital(called(camera))} is carried by a layer.",
                    "Let the lens answer.",
                    field="answers",
                )
            away = self._away(bake, samples, at, here, size[0])
            new = {
                name: _put(camera.channel(name), self.first, (at[here] + away)[:, k], _MATCH_M)
                for k, name in enumerate(("x", "y", "z"))
                if np.ptp(away[:, k]) > 1e-9
            }
        after = camera.with_channels(new)
        what = "The lens" if self.answers == "lens" else "The distance"
        said = f"{what} of {called(camera)} keeps {who} as large from {self.first} to {self.last}"
        return fitted(scene, camera, after, said, force=self.force)

    def _away(self, bake: Bake, samples: Samples, at: Any, here: slice, wanted: float) -> Any:
        """(n, 3) metres from the subject to the camera, along the line between them, at which it has a size."""
        values = samples.values.copy()
        for _ in range(_ROUNDS):
            now = Samples(samples.columns, samples.frames, values, samples.facts)
            by = size_seen(bake, now, root_of(self.subject))[here] / wanted
            if not np.isfinite(by).all() or np.abs(by - 1).max() < _SAME:
                break
            values[here, :3] = at[here] + (values[here, :3] - at[here]) * by[:, None]
        return values[here, :3] - at[here]

    def reads(self) -> frozenset[str]:
        return frozenset(link.id for link in links(self.subject))


def _put(channel: Channel, first: int, values: Any, error: float) -> Channel:
    made = simplified(first, values, error)
    last = first + len(values) - 1
    keys = list(made.keys) or [
        Key(frame=f, value=made.rest, before="straight", after="straight") for f in (first, last)
    ]
    return put_between(channel, keys)
