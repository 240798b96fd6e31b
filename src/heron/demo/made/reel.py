"""A story reel of “Boathouse” as an MP4: a rough drawing for each shot that was planned, with the figures where they go."""

import subprocess
import tempfile
from pathlib import Path

import imageio_ffmpeg
from PIL import Image, ImageDraw, ImageFont

from heron.fonts import BARLOW_BOLD

WIDE, HIGH, RATE = 640, 360, 24
_PAPER, _INK, _TONE, _COAT, _DRESS = "#efe9dc", "#3b3733", "#cfc6b4", "#c9962f", "#2f6b78"
#: What was planned: each shot's name, how many frames, and what it shows.
PLANNED = (("080", 75, "He comes in"), ("090", 38, "She turns round"), ("100", 59, "He sees her"))


def reel() -> bytes:
    """The file."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "reel.mp4"
        command = [
            imageio_ffmpeg.get_ffmpeg_exe(), "-v", "error", "-nostdin", "-y", "-f", "rawvideo", "-pix_fmt", "rgb24", "-s", f"{WIDE}x{HIGH}",
            "-r", str(RATE), "-i", "pipe:0", "-c:v", "libx264", "-preset", "veryfast", "-pix_fmt", "yuv420p", "-threads", "1",
            "-fflags", "+bitexact", "-flags:v", "+bitexact", str(path),
        ]  # fmt: skip
        frames = [
            _panel(name, says, i / count, total + i)
            for (name, count, says), total in zip(PLANNED, _starts(), strict=True)
            for i in range(count)
        ]
        subprocess.run(command, input=b"".join(frames), check=True, capture_output=True)
        return path.read_bytes()


def _starts() -> list[int]:
    return [sum(count for _, count, _ in PLANNED[:k]) for k in range(len(PLANNED))]


def _panel(name: str, says: str, share: float, frame: int) -> bytes:
    """One drawing, so far into its shot."""
    image = Image.new("RGB", (WIDE, HIGH), _PAPER)
    pen = ImageDraw.Draw(image)
    if name == "080":
        # The door stands open at the far end; he comes towards it.
        pen.rectangle((250, 60, 420, 250), fill="#ffffff", outline=_INK, width=4)
        pen.polygon([(0, 360), (250, 250), (420, 250), (640, 360)], fill=_TONE, outline=_INK)
        _person(pen, 335 - 40 * share, 250 + 60 * share, 110 + 110 * share, _COAT)
        _person(pen, 600, 372, 330, _DRESS)
    elif name == "090":
        pen.rectangle((0, 0, WIDE, HIGH), fill=_TONE)
        pen.rectangle((130, 40, 520, 300), fill=_PAPER, outline=_INK, width=8)
        pen.line((325, 40, 325, 300), fill=_INK, width=6)
        _person(pen, 430 - 12 * share, 300, 190, _DRESS)
        pen.rectangle((0, 300, WIDE, HIGH), fill=_TONE)
    else:
        _person(pen, 360, 640, 570, _COAT)
        pen.arc((336, 112, 384, 156), 20, 160, fill=_INK, width=4)
    font = ImageFont.truetype(str(BARLOW_BOLD), 26)
    pen.rectangle((0, 0, WIDE, 36), fill=_INK)
    pen.text((12, 3), f"{name}   {says}", font=font, fill=_PAPER)
    pen.text((WIDE - 12, 3), f"{frame:04d}", font=font, fill=_PAPER, anchor="ra")
    return image.tobytes()


def _person(pen: ImageDraw.ImageDraw, x: float, foot: float, high: float, coat: str) -> None:
    head, body = 0.075 * high, 0.14 * high
    top = foot - high
    pen.polygon(
        [(x - body, foot), (x - 0.8 * body, top + 2.6 * head), (x + 0.8 * body, top + 2.6 * head), (x + body, foot)], fill=coat, outline=_INK
    )  # fmt: skip
    pen.ellipse((x - head, top, x + head, top + 2.4 * head), fill=_PAPER, outline=_INK, width=3)
