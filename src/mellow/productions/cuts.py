"""What is known of scenes by the rows of their shots and cameras, without loading them whole."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from heron.film.document import SceneCut
from heron.scene.shot import Shot
from heron.scene.upgrades import upgrade
from mellow.productions import models


@dataclass(frozen=True)
class KnownScene:
    """What a film and the list of scenes show of a scene.

    Attributes:
        shots: in order, each with the frame of the cut it begins at.
        letters: cameras' letters by id, in order.
    """

    row: models.Scene
    cut: SceneCut
    shots: tuple[tuple[Shot, int], ...]
    letters: dict[str, str]

    def shot_at(self, cut: int) -> tuple[Shot, int] | None:
        """The shot that shows a frame of the cut, and its stage frame; none in a gap."""
        for shot, begins in self.shots:
            if begins <= cut < begins + shot.stage.count:
                return shot, shot.stage.first + cut - begins
        return None

    @property
    def aspect(self) -> float:
        """Of the delivery frame."""
        return float(self.row.settings["delivery"]["aspect"])

    @property
    def pictured(self) -> tuple[str, int] | None:
        """The camera and the stage frame that stand for it: its first shot's, else its first camera's first frame."""
        shots = ((shot.camera, shot.stage.first) for shot, _ in self.shots if shot.camera)
        return next(shots, None) or next(((camera, self.row.first) for camera in self.letters), None)


def known(scenes: Iterable[int]) -> dict[int, KnownScene]:
    """By its id, what is known of each scene that is there: its cut, read from the rows of its shots alone."""
    ids = set(scenes)
    shots: dict[int, list[tuple[Shot, int]]] = defaultdict(list)
    lengths: dict[int, int] = defaultdict(int)
    found = models.Shot.objects.filter(scene__in=ids).order_by("scene", "order")
    for scene, params, version in found.values_list("scene", "params", "version"):
        shot = Shot.model_validate(upgrade("shots", params, version))
        begins = lengths[scene] + shot.gap_before
        shots[scene].append((shot, begins))
        lengths[scene] = begins + shot.stage.count
    cameras = models.Camera.objects.filter(scene__in=ids).order_by("scene", "order")
    letters: dict[int, dict[str, str]] = defaultdict(dict)
    for scene, uid, letter in cameras.values_list("scene", "uid", "letter"):
        letters[scene][uid] = letter
    rows = models.Scene.objects.filter(pk__in=ids, frozen_of=None)
    return {
        row.pk: KnownScene(
            row, SceneCut(row.name, row.rate, lengths[row.pk]), tuple(shots[row.pk]), letters[row.pk]
        )
        for row in rows
    }
