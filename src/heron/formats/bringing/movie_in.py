"""A reference movie, kept small and easy to go through frame by frame: H.264 in MP4, by ffmpeg.

Only what lies in the file itself is read: no reference of it is followed.
"""

import contextlib
import subprocess
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import imageio_ffmpeg

from heron.errors import BadInput
from heron.scene.reference_movie import LONGEST_S

#: As high as it is kept, pixels; and how many pictures at most lie between two that stand for themselves.
HIGH_PX, APART = 540, 6
#: Larger ones are not opened, pixels a side.
_MOST_PX = 8192
_AGAIN = "Export it again as MP4 with H.264."


@dataclass(frozen=True)
class MovieFile:
    """A movie that was read: how long it is, its pictures a second and its size as it came, and what is left out."""

    seconds: float
    fps: float
    wide: int
    high: int
    said: tuple[str, ...]


def keep_movie(came: Path, out: Path, name: str, tell: Callable[[float], None]) -> MovieFile:
    """Write a movie as it is kept; how far it is is told, 0 to 1.

    Raises:
        BadInput: it is damaged, has no pictures, or is too long or too large.
    """
    try:
        reader = imageio_ffmpeg.read_frames(str(came), input_params=["-f", "mov"])
        with contextlib.closing(reader):
            told = next(reader)
    except (OSError, RuntimeError, StopIteration, KeyError, IndexError, ValueError):
        raise BadInput(f"{name} holds no pictures that can be read.", _AGAIN) from None
    seconds, fps = float(told.get("duration") or 0), float(told.get("fps") or 0)
    wide, high = told.get("source_size") or told.get("size") or (0, 0)
    if not (seconds > 0 and 1 <= fps <= 240 and wide and high):
        raise BadInput(f"{name} does not say how long it is, or how fast it plays.", _AGAIN)
    if seconds > LONGEST_S:
        raise BadInput(
            f"{name} is {seconds / 60:.0f} minutes long.", f"Up to {LONGEST_S / 60:.0f} minutes are kept: cut it first."
        )  # fmt: skip
    if max(wide, high) > _MOST_PX:
        raise BadInput(f"{name} is {wide:,} × {high:,} pixels.", "Save it smaller.")
    command = [
        imageio_ffmpeg.get_ffmpeg_exe(), "-v", "error", "-nostdin", "-y", "-f", "mov", "-protocol_whitelist", "file", "-i", str(came),
        "-map", "0:v:0", "-an", "-vf", f"fps={fps:g},scale=-2:'trunc(min({HIGH_PX},ih)/2)*2',format=yuv420p",
        "-c:v", "libx264", "-preset", "veryfast", "-crf", "23", "-g", str(APART), "-bf", "0", "-threads", "2",
        "-map_metadata", "-1", "-fflags", "+bitexact", "-flags:v", "+bitexact", "-movflags", "+faststart",
        "-progress", "pipe:1", "-f", "mp4", str(out),
    ]  # fmt: skip
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None and process.stderr is not None
        try:
            for line in process.stdout:
                key, _, value = line.strip().partition("=")
                if key == "out_time_us" and value.isdigit():
                    tell(min(int(value) / 1e6 / seconds, 1.0))
            said = process.stderr.read()
        except BaseException:
            # Nobody is told any more, so nobody waits for it.
            process.kill()
            raise
    if process.returncode != 0 or not out.exists() or not out.stat().st_size:
        raise BadInput(
            f"{name} is damaged: {(said.strip() or 'it ends too soon').splitlines()[0][:120]}", _AGAIN
        )
    # Of one that is cut short, as long as there are pictures.
    with contextlib.closing(imageio_ffmpeg.read_frames(str(out))) as kept:
        there = float(next(kept).get("duration") or seconds)
    notes = ["Its sound is left out: bring it in as a sound file."] if told.get("audio_codec") else []
    if there < seconds - 2 / fps:
        notes.append(f"It ends after {there:.2f} s of the {seconds:.2f} s that it says.")
    if high > HIGH_PX:
        notes.append(f"It is kept {HIGH_PX} pixels high of {high:,}.")
    return MovieFile(round(there, 3), fps, int(wide), int(high), tuple(notes))
