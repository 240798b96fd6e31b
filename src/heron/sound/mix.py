"""The mix: sounds of the cut added up, sample by sample."""

import wave
from collections.abc import Callable, Collection, Iterator
from pathlib import Path
from typing import Any

import numpy as np

from heron.cut import Clocks
from heron.errors import Refused
from heron.scene import Scene
from heron.scene.sound import SOUND_LANES, Sound, SoundLane
from heron.sound.clips import Clip, clips_of
from heron.sound.samples import RATE, sample_of

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: Gives the stereo samples of a file, (n, 2), by its key.
Files = Callable[[str], Floats]
BLOCK = 262_144


def mix(
    scene: Scene,
    files: Files,
    first: int = 0,
    stop: int | None = None,
    lanes: Collection[SoundLane] = SOUND_LANES,
    block: int = BLOCK,
) -> Iterator[Floats]:
    """The sound of frames `first` to before `stop` of the cut, in blocks of (n, 2); as it is, nothing is limited.

    Raises:
        Refused: there is no cut.
    """
    clocks = Clocks(scene)
    if clocks.length == 0:
        raise Refused("There are no shots in the cut yet.", "Put a camera on the assembly first.")
    begin = sample_of(first, clocks.rate)
    end = sample_of(clocks.length if stop is None else stop, clocks.rate)
    heard = [clip for clip in clips_of(scene) if clip.sound.lane in lanes]
    for at in range(begin, end, block):
        out = np.zeros((min(block, end - at), 2))
        for clip in heard:
            _add(out, at, clip, files, clocks)
        yield out


def _add(out: Floats, at: int, clip: Clip, files: Files, clocks: Clocks) -> None:
    """Add a clip to a block that begins at a sample of the cut."""
    a, b = max(clip.start, at), min(clip.stop, at + len(out))
    if a >= b:
        return
    into = np.arange(a, b) - clip.start + clip.into
    out[a - at : b - at] += played(clip.sound, into, files(clip.sound.file), clocks)


def played(sound: Sound, into: "np.ndarray[Any, np.dtype[np.int64]]", data: Floats, clocks: Clocks) -> Floats:
    """(n, 2): a sound at samples after its own first: with its level, its equal-power fades, and silence past its file."""
    source = into + sound.slip
    there = (source >= 0) & (source < len(data))
    out = np.zeros((len(into), 2))
    out[there] = data[source[there]]
    level = np.full(len(into), 10 ** (sound.gain_db / 20))
    length = sample_of(sound.frames, clocks.rate)
    for frames, after in ((sound.fade_in, into), (sound.fade_out, length - 1 - into)):
        count = sample_of(frames, clocks.rate)
        if count:
            level *= np.sin(np.pi / 2 * np.clip((after + 0.5) / count, 0.0, 1.0))
    heard: Floats = out * level[:, None]
    return heard


def write_wav(path: Path, blocks: Iterator[Floats]) -> float:
    """Write a mix as 24-bit stereo WAV at 48 kHz, and give its highest level, 1 being the most that fits.

    What is higher is cut off there; whoever writes it says so.
    """
    highest = 0.0
    with wave.open(str(path), "wb") as out:
        out.setnchannels(2)
        out.setsampwidth(3)
        out.setframerate(RATE)
        for block in blocks:
            highest = max(highest, float(np.abs(block).max(initial=0.0)))
            steps = np.clip(np.rint(block * 8_388_608), -8_388_608, 8_388_607).astype("<i4")
            out.writeframesraw(steps.reshape(-1, 1).view("u1").reshape(-1, 4)[:, :3].tobytes())
    return highest
