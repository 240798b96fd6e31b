"""The mix: sounds of the cut added up, sample by sample."""

import wave
from collections.abc import Collection, Iterator
from fractions import Fraction
from pathlib import Path

import numpy as np

from heron.cut import Clocks
from heron.errors import Refused
from heron.scene import Scene
from heron.scene.sound import SOUND_LANES, Sound, SoundLane
from heron.sound.clips import Clip, clips_of
from heron.sound.samples import RATE, Files, Floats, sample_of
from heron.sound.stand_in import with_stand_ins
from heron.timebase import parse_rate

BLOCK = 262_144
#: How long a looped sound's end and beginning are heard together, samples: half a second, ours.
CROSS = RATE // 2


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
    length = Clocks(scene).length
    if length == 0:
        raise Refused("There are no shots in the cut yet.", "Put a camera on the assembly first.")
    fps = parse_rate(scene.rate)
    begin, end = sample_of(first, fps), sample_of(length if stop is None else stop, fps)
    heard = [clip for clip in clips_of(scene) if clip.sound.lane in lanes]
    files = with_stand_ins(scene, files)
    for at in range(begin, end, block):
        yield added(heard, at, min(block, end - at), files, fps)


def added(clips: Collection[Clip], at: int, count: int, files: Files, fps: Fraction) -> Floats:
    """(count, 2): what clips add up to from a sample of their ruler on."""
    out = np.zeros((count, 2))
    for clip in clips:
        _add(out, at, clip, files, fps)
    return out


def _add(out: Floats, at: int, clip: Clip, files: Files, fps: Fraction) -> None:
    """Add a clip to a block that begins at a sample of the cut."""
    a, b = max(clip.start, at), min(clip.stop, at + len(out))
    if a < b:
        out[a - at : b - at] += played(clip.sound, a - clip.start + clip.into, b - a, files, fps)


def played(sound: Sound, into: int, count: int, files: Files, fps: Fraction) -> Floats:
    """(count, 2): a sound from a sample after its own first on: its level, its equal-power fades, silence past its file."""
    out = np.zeros((count, 2))
    part = (
        _looped(sound, into, count, files)
        if sound.loop
        else files(sound.file, into + sound.slip, into + sound.slip + count)
    )
    out[: len(part)] = part
    length = sample_of(sound.frames, fps)
    level = np.full(count, 10 ** (sound.gain_db / 20))
    after = np.arange(into, into + count)
    for frames, along in ((sound.fade_in, after), (sound.fade_out, length - 1 - after)):
        over = sample_of(frames, fps)
        if over:
            level *= np.sin(np.pi / 2 * np.clip((along + 0.5) / over, 0.0, 1.0))
    heard: Floats = out * level[:, None]
    return heard


def period_of(sound: Sound) -> int:
    """After how many samples a looped sound begins again: so many before its end that both are heard for a while."""
    content = sound.samples - sound.slip
    return content - min(CROSS, content // 4)


def _looped(sound: Sound, into: int, count: int, files: Files) -> Floats:
    """(count, 2): what is heard of a file again and again; its end and its beginning are cross-faded at equal power."""
    content = np.asarray(files(sound.file, sound.slip, sound.samples), dtype=np.float64)
    if len(content) < sound.samples - sound.slip:
        return np.zeros((0, 2))
    period = period_of(sound)
    over = len(content) - period
    k = np.arange(into, into + count)
    at = k % period
    out = content[at]
    seam = (k >= period) & (at < over)
    turn = (np.pi / 2 * (at[seam] + 0.5) / over)[:, None]
    out[seam] = np.sin(turn) * out[seam] + np.cos(turn) * content[period + at[seam]]
    looped: Floats = out
    return looped


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
