"""A scene's dialogue handed over: WebVTT, and a screenplay as plain text."""

from heron.errors import Refused
from heron.lines import TimedLine, speaker, timed
from heron.lines.fountain import write_fountain
from heron.lines.subtitles import write_vtt
from heron.scene import Scene
from heron.timebase import parse_rate


def scene_vtt(scene: Scene) -> str:
    """The lines as WebVTT, counted from the scene's first frame; a cue ends where its last frame does.

    Raises:
        Refused: there are no lines.
    """
    rate, first = parse_rate(scene.rate), scene.frames.first
    return write_vtt(
        (speaker(scene, one.line), one.line.text, float((one.first - first) / rate), float((one.last + 1 - first) / rate))
        for one in _some(scene)
    )  # fmt: skip


def scene_fountain(scene: Scene) -> str:
    """The lines as a screenplay.

    Raises:
        Refused: there are no lines.
    """
    return write_fountain(scene.name, ((speaker(scene, one.line), one.line.text) for one in _some(scene)))


def _some(scene: Scene) -> tuple[TimedLine, ...]:
    if not scene.lines:
        raise Refused("This scene has no lines.", "Write lines, or bring in a screenplay.")
    return timed(scene)
