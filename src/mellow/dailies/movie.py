"""A movie for showing: H.264 in MP4, 4:2:0, its colour said, by ffmpeg."""

import subprocess
from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path

import imageio_ffmpeg

from heron.errors import HeronError


class NotPacked(HeronError):
    """ffmpeg could not make the movie."""


def write_movie(
    path: Path,
    frames: Iterable[bytes],
    wide: int,
    high: int,
    rate: Fraction,
    factor: int,
    timecode: str | None,
    sound: Path | None = None,
) -> int:
    """Write a movie from frames of RGB bytes, one after the other; how many.

    What is drawn is sRGB, so the matrix and the primaries are BT.709's and the transfer is sRGB's (IEC 61966-2-1), all
    three said in the stream (ISO/IEC 23091-2). `sound` is a WAV at 48 kHz; it becomes AAC.

    Raises:
        NotPacked: with what ffmpeg said.
    """
    command = [
        imageio_ffmpeg.get_ffmpeg_exe(), "-v", "error", "-nostdin", "-y",
        "-f", "rawvideo", "-pix_fmt", "rgb24", "-s", f"{wide}x{high}", "-r", f"{rate.numerator}/{rate.denominator}",
        "-i", "pipe:0", *(["-i", str(sound), "-map", "0:v", "-map", "1:a", "-c:a", "aac", "-b:a", "256k"] if sound else []),
        "-vf", "scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int,format=yuv420p,"
        "setparams=range=tv:colorspace=bt709:color_primaries=bt709:color_trc=iec61966-2-1",
        "-c:v", "libx264", "-preset", "medium", "-crf", str(factor), "-threads", "2",
        "-color_range", "tv", "-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "iec61966-2-1",
        *(["-timecode", timecode] if timecode else []), "-movflags", "+faststart", "-f", "mp4", str(path),
    ]  # fmt: skip
    process = subprocess.Popen(command, stdin=subprocess.PIPE, stderr=subprocess.PIPE)
    assert process.stdin is not None and process.stderr is not None
    count = 0
    try:
        for frame in frames:
            process.stdin.write(frame)
            count += 1
        process.stdin.close()
    except BrokenPipeError:
        pass  # It says why below.
    except BaseException:
        process.kill()
        process.wait()
        raise
    said = process.stderr.read().decode(errors="replace").strip()
    if process.wait() != 0:
        full = "No space left" in said
        raise NotPacked(
            "The movie was not written: the disk is full."
            if full
            else f"The movie was not written: {said[:200]}",
            "Make room on the disk, then carry on."
            if full
            else "Carry on to try again, or ask for pictures alone.",
        )
    return count
