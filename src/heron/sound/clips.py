"""Where sounds are heard along the cut, in samples."""

from collections.abc import Iterator
from dataclasses import dataclass

from heron.cut import Clocks
from heron.lines.timing import timed
from heron.scene import Scene
from heron.scene.joins import heard
from heron.scene.sound import Sound
from heron.sound.samples import sample_of
from heron.sound.stand_in import all_sounds
from heron.timebase import parse_rate


@dataclass(frozen=True)
class Clip:
    """A stretch of a sound as it is heard.

    Attributes:
        start, stop: samples of the cut, half-open.
        into: how many samples after the sound's own first the stretch begins.
    """

    sound: Sound
    start: int
    stop: int
    into: int


def stage_first(scene: Scene, sound: Sound) -> int:
    """The stage frame on which a sound of the stage begins: that of its line, where it has one."""
    if sound.line is None:
        return sound.first
    return next(one.first for one in timed(scene) if one.line.id == sound.line)


def clips_of(scene: Scene) -> list[Clip]:
    """Every stretch of every sound, in the order of the cut.

    A sound of the stage is heard in each shot that shows its frames, as far as the shot has their sound.
    """
    found = [clip for sound in all_sounds(scene) for clip in _of(scene, Clocks(scene), sound)]
    return sorted(found, key=lambda clip: clip.start)


def stage_clips(scene: Scene) -> list[Clip]:
    """Every sound of the stage once, counted in samples from the scene's first frame; it ends with the stage."""
    fps = parse_rate(scene.rate)
    found = []
    for sound in all_sounds(scene):
        if sound.on == "cut":
            continue
        first = stage_first(scene, sound)
        stop = min(first + sound.frames, scene.frames.stop)
        if first < stop:
            at = sample_of(first - scene.frames.first, fps)
            found.append(Clip(sound, at, at + sample_of(stop - first, fps), 0))
    return found


def _of(scene: Scene, clocks: Clocks, sound: Sound) -> Iterator[Clip]:
    fps = clocks.rate
    if sound.on == "cut":
        start = sample_of(sound.first, fps)
        yield Clip(sound, start, start + sample_of(sound.frames, fps), 0)
        return
    first = stage_first(scene, sound)
    shots = [placed.shot for placed in clocks.placed]
    for i, placed in enumerate(clocks.placed):
        span = heard(shots, i)
        if span is None:
            continue
        begin, end = max(first, span.first), min(first + sound.frames, span.stop)
        if begin >= end:
            continue
        cut = placed.cut_first + begin - placed.shot.stage.first
        start, stop = sample_of(cut, fps), sample_of(cut + end - begin, fps)
        yield Clip(sound, start, stop, sample_of(begin - first, fps))
