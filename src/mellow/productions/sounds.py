"""The sound files of a production, and what a scene sounds like."""

import io
import wave
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from heron.errors import BadInput, NotFound
from heron.scene import Scene
from heron.scene.sound import SOUND_LANES, SoundLane
from heron.sound.clips import clips_of, stage_clips
from heron.sound.files import heard_until, key_of, packed, read_part, read_sound
from heron.sound.handed import sound_files
from heron.sound.level import level_of
from heron.sound.mix import added
from heron.sound.samples import RATE, Floats, sample_of
from heron.sound.stand_in import with_stand_ins
from heron.sound.stretched import MARGIN, stretched
from heron.timebase import parse_rate
from mellow.productions.models import Production, SoundFile

#: Pairs of a waveform to a second.
PEAKS = 100


@dataclass(frozen=True)
class Kept:
    """A sound that was kept: its key, its length in samples at 48 kHz, after which of them nothing is heard, how far it
    opens a mouth, and what was done to it.
    """

    key: str
    samples: int
    until: int
    level: str
    said: tuple[str, ...]


def keep(production: Production, content: bytes, name: str) -> Kept:
    """Keep a sound file; the same sound, the same key.

    Raises:
        BadInput: it is none, or holds nothing that can be heard.
    """
    sound = read_sound(content, name)
    flac = packed(sound)
    key = key_of(flac)
    count = len(sound.data)
    SoundFile.objects.get_or_create(
        key=key, defaults={"production": production, "content": flac, "samples": count}
    )
    return Kept(key, count, heard_until(sound), level_of(sound), sound.said)


@lru_cache(maxsize=24)
def _content(key: str) -> bytes:
    found = SoundFile.objects.filter(key=key).first()
    if found is None:
        raise NotFound("The file of a sound is not here.", "Bring the sound in again.")
    return bytes(found.content)


def part(key: str, start: int, stop: int) -> Any:
    """(n, 2): what is heard of a kept file from a sample to before another; fewer where it ends, none where it is not here."""
    try:
        return read_part(_content(key), start, stop)
    except NotFound:
        return np.zeros((0, 2))


def handed(scene: Scene) -> Iterator[tuple[str, bytes]]:
    """The files that the cut's timeline names, as FLAC by their names; those that are not here are left out."""

    return sound_files(scene, stored)


def stored(key: str) -> bytes | None:
    """A kept sound as FLAC; None where it is not here."""
    try:
        return _content(key)
    except NotFound:
        return None


def put(production: Production, key: str, content: bytes) -> None:
    """Keep a sound that a package has as FLAC, under its key.

    Raises:
        BadInput: it is none.
    """
    if key_of(content) != key:
        raise BadInput("A sound of the package is not what its name says.", "Hand the scene over again.")
    samples = len(read_sound(content, "A sound of the package").data)
    SoundFile.objects.get_or_create(
        key=key, defaults={"production": production, "content": content, "samples": samples}
    )


def missing(scene: Scene) -> list[str]:
    """The names of sounds whose files are not here: they are silent."""
    here = set(SoundFile.objects.filter(key__in={s.file for s in scene.sounds}).values_list("key", flat=True))
    return list(dict.fromkeys(one.name for one in scene.sounds if one.file not in here))


@lru_cache(maxsize=64)
def peaks(key: str) -> bytes:
    """The least and the most of each hundredth of a second, as pairs of signed bytes."""
    mono = read_sound(_content(key), key).data.mean(axis=1)
    each = RATE // PEAKS
    rows = np.pad(mono, (0, -len(mono) % each)).reshape(-1, each)
    pairs = np.stack([rows.min(axis=1), rows.max(axis=1)], axis=1)
    return bytes(np.rint(np.clip(pairs, -1, 1) * 127).astype("i1").tobytes())


def heard(
    scene: Scene,
    on: str,
    first: int,
    count: int,
    lanes: Collection[SoundLane] = SOUND_LANES,
    speed: float = 1.0,
    backwards: bool = False,
    without: str | None = None,
) -> Floats:
    """(n, 2): what is heard over frames of the cut, or of the stage counted from the scene's first; files that are not
    here are silent. At less than full speed it keeps its pitch. One line may be left out.
    """
    fps = parse_rate(scene.rate)
    clips = [
        clip
        for clip in (clips_of(scene) if on == "cut" else stage_clips(scene))
        if clip.sound.lane in lanes and (without is None or clip.sound.line != without)
    ]
    begin, end = sample_of(first, fps), sample_of(first + count, fps)
    length, files = end - begin, with_stand_ins(scene, part)
    if speed != 1:
        wide = added(clips, begin - MARGIN, length + 2 * MARGIN, files, fps)
        out = stretched(wide, round(length / speed))
    else:
        out = added(clips, begin, length, files, fps)
    return out[::-1] if backwards else out


def as_wav(samples: Floats) -> bytes:
    """Samples as 16-bit WAV, for listening."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(2)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(np.rint(np.clip(samples, -1, 1) * 32_767).astype("<i2").tobytes())
    return out.getvalue()
