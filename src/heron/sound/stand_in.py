"""Lines without a recording, spoken by a stand-in voice."""

import numpy as np

from heron.lines import TimedLine, timed
from heron.lines.mouth import word_spans
from heron.scene import Scene
from heron.scene.line import Line
from heron.scene.sound import Sound
from heron.sound.espeak import spoken
from heron.sound.samples import RATE, Files, Floats, sample_of
from heron.sound.voice import Speech
from heron.stage.figure import Voice
from heron.timebase import parse_rate


def pitch_of(scene: Scene, line: Line) -> float:
    """How high a line is spoken, Hz; a voice off as a figure of usual stature would."""
    figure = next((one for one in scene.figures if one.id == line.figure), None)
    return figure.pitch if figure else Voice.usual_pitch(1.7)


def speech_of(scene: Scene, one: TimedLine) -> Speech:
    """What the stand-in says of a line, and when."""
    fps = parse_rate(scene.rate)
    words = []
    for word, a, b in word_spans(scene, one):
        start = sample_of(round(a), fps)
        words.append((word, start, max(round(b * RATE / float(fps)), start + 1)))
    return Speech(tuple(words), sample_of(one.last + 1 - one.first, fps), pitch_of(scene, one.line))


def stand_ins(scene: Scene) -> list[tuple[Sound, Speech]]:
    """The sounds that a stand-in makes: one for every line that has no sound of its own."""
    if not scene.stand_ins:
        return []
    recorded = {one.line for one in scene.sounds}
    out = []
    for one in timed(scene):
        if one.line.id not in recorded:
            speech = speech_of(scene, one)
            sound = Sound(
                id=one.line.id, name=one.line.name, file=speech.key, samples=speech.samples, lane="lines",
                frames=one.last - one.first + 1, line=one.line.id,
            )  # fmt: skip
            out.append((sound, speech))
    return out


def all_sounds(scene: Scene) -> tuple[Sound, ...]:
    """What is heard of a scene: its sounds, and stand-ins for lines that have none."""
    return (*scene.sounds, *(sound for sound, _ in stand_ins(scene)))


def with_stand_ins(scene: Scene, files: Files) -> Files:
    """The files of a scene, and of its stand-ins."""
    said = {speech.key: speech for _, speech in stand_ins(scene)}

    def read(key: str, start: int, stop: int) -> Floats:
        if key not in said:
            return files(key, start, stop)
        mono = spoken(said[key])[max(start, 0) : stop]
        return np.repeat(mono[:, None], 2, axis=1)

    return read
