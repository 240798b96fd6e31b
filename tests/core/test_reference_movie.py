"""A reference movie: what is kept of it, as OpenCV and ffprobe see it, and where in the scene it begins."""

import json
import subprocess

import cv2
import numpy as np
import pytest

from heron.cli import main
from heron.commands import parse_commands, run
from heron.errors import BadInput, Refused
from heron.formats.bringing import movie_in
from heron.formats.bringing.movie_in import APART, HIGH_PX, keep_movie
from heron.formats.bringing.recognise import form_of
from heron.scene import empty_scene, read_scene, write_scene

FPS, COUNT = 24, 60
KEY = "cd" * 32
MOVIE = {"file": KEY, "name": "reel", "seconds": 2.5, "fps": 24.0}


def grey(i):
    """How bright frame i is: no two of those next to each other alike."""
    return 20 + (i * 37) % 200


def made(path, wide=64, high=48, count=COUNT, sound=False):
    """An MP4 of plain greys by ffmpeg."""
    frames = b"".join(np.full((high, wide), grey(i), np.uint8).tobytes() for i in range(count))
    tone = ["-f", "lavfi", "-i", f"sine=frequency=330:duration={count / FPS}", "-c:a", "aac"] if sound else []
    subprocess.run(
        ["ffmpeg", "-v", "error", "-y", "-f", "rawvideo", "-pix_fmt", "gray", "-s", f"{wide}x{high}", "-r", str(FPS), "-i", "pipe:0", *tone,
         "-c:v", "libx264", "-pix_fmt", "yuv420p", "-g", "250", str(path)],
        input=frames, check=True,
    )  # fmt: skip
    return path


def test_every_picture_is_kept_in_its_place_small_and_quick_to_reach(tmp_path):
    shares = []
    found = keep_movie(
        made(tmp_path / "reel.mp4", 1920, 1080), tmp_path / "kept.mp4", "reel.mp4", shares.append
    )
    assert (found.seconds, found.fps, found.wide, found.high) == (COUNT / FPS, FPS, 1920, 1080)
    assert any(str(HIGH_PX) in said for said in found.said) and not any(
        "sound" in said for said in found.said
    )
    assert shares == sorted(shares) and all(0 <= one <= 1 for one in shares)
    reader = cv2.VideoCapture(str(tmp_path / "kept.mp4"))
    seen = [reader.read() for _ in range(COUNT + 1)]
    assert [ok for ok, _ in seen] == [True] * COUNT + [False]
    assert seen[0][1].shape == (HIGH_PX, 960, 3)
    # A grey of n goes through the narrow range and back (ITU-R BT.601) within a step or two.
    np.testing.assert_allclose(
        [np.median(one) for _, one in seen[:-1]], [grey(i) for i in range(COUNT)], atol=3
    )
    told = json.loads(subprocess.run(
        ["ffprobe", "-v", "error", "-show_entries", "frame=key_frame:stream=codec_name", "-of", "json", str(tmp_path / "kept.mp4")],
        capture_output=True, check=True,
    ).stdout)  # fmt: skip
    assert told["streams"] == [{"codec_name": "h264"}]
    keys = [i for i, one in enumerate(told["frames"]) if one["key_frame"]]
    assert keys[0] == 0 and max(np.diff([*keys, COUNT])) <= APART
    # The same file, the same bytes: it is found by its content.
    keep_movie(tmp_path / "reel.mp4", tmp_path / "again.mp4", "reel.mp4", lambda share: None)
    assert (tmp_path / "again.mp4").read_bytes() == (tmp_path / "kept.mp4").read_bytes()


def test_its_sound_is_left_out_and_said(tmp_path):
    found = keep_movie(
        made(tmp_path / "a.mp4", sound=True), tmp_path / "out.mp4", "a.mp4", lambda share: None
    )
    assert any("sound" in said for said in found.said)
    streams = subprocess.run(
        ["ffprobe", "-v", "error", "-show_entries", "stream=codec_type", "-of", "csv=p=0", str(tmp_path / "out.mp4")],
        capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    assert streams == ["video"]


@pytest.mark.parametrize(
    "content", [b"", b"\0\0\0\x18ftypisom", b"\x89PNG\r\n", b"#EXTM3U\n/etc/passwd\n", b"ffconcat version 1.0\nfile /etc/passwd\n"]
)  # fmt: skip
def test_what_is_no_movie_is_refused_and_points_nowhere(tmp_path, content):
    (tmp_path / "bad.mp4").write_bytes(content)
    with pytest.raises(BadInput, match=r"bad\.mp4") as error:
        keep_movie(tmp_path / "bad.mp4", tmp_path / "out.mp4", "bad.mp4", lambda share: None)
    assert error.value.remedy and not (tmp_path / "out.mp4").exists()


def test_one_cut_short_is_kept_as_far_as_it_goes_or_refused(tmp_path):
    whole = made(tmp_path / "a.mp4").read_bytes()
    (tmp_path / "short.mp4").write_bytes(whole[: len(whole) // 2])
    with pytest.raises(BadInput):
        keep_movie(tmp_path / "short.mp4", tmp_path / "out.mp4", "short.mp4", lambda share: None)
    assert (
        form_of(whole, "reel")
        == form_of(b"\0\0\0\x18ftypqt  ", "x")
        == form_of(b"abcdefgh", "reel.MOV")
        == "movie"
    )


def done(*commands, scene=None):
    return run(scene or empty_scene("Slack Tide"), parse_commands(json.dumps(commands)))


def test_it_begins_with_the_cut_or_at_a_frame_of_the_stage():
    scene, _ = done({"kind": "reference.take", "movie": MOVIE})
    assert (scene.reference.clock, scene.reference.first, scene.files) == ("cut", 0, (KEY,))
    assert read_scene(write_scene(scene)) == scene
    after, said = done({"kind": "reference.move", "clock": "stage"}, scene=scene)
    # The stage begins with its own first frame.
    assert after.reference.first == scene.frames.first and said == ["reel begins at frame 1001 of the stage"]
    after, _ = done({"kind": "reference.move", "first": 1030}, scene=after)
    assert (after.reference.clock, after.reference.first) == ("stage", 1030)
    other = {"file": "ef" * 32, "name": "other", "seconds": 1.0, "fps": 25.0, "clock": "stage", "first": 1050}
    replaced, _ = done({"kind": "reference.take", "movie": other}, scene=after)
    assert replaced.reference.name == "other" and replaced.files == ("ef" * 32,)
    left, _ = done({"kind": "reference.leave"}, scene=after)
    assert left.reference is None and left.files == ()


@pytest.mark.parametrize("command", [{"kind": "reference.leave"}, {"kind": "reference.move", "first": 3}])
def test_where_there_is_none_nothing_is_moved(command):
    with pytest.raises(Refused, match="no reference movie"):
        done(command)
    scene, _ = done({"kind": "reference.take", "movie": MOVIE})
    with pytest.raises(Refused, match="already"):
        done({"kind": "reference.take", "movie": MOVIE}, scene=scene)
    with pytest.raises(Refused, match="already"):
        done({"kind": "reference.move", "first": 0}, scene=scene)


def test_the_command_line_says_that_it_is_a_movie(tmp_path, capsys):
    made(tmp_path / "reel.mp4")
    assert main(["inspect", str(tmp_path / "reel.mp4")]) == 0
    assert json.loads(capsys.readouterr().out)["kind"] == "movie"


@pytest.mark.parametrize(
    "how, says",
    [
        (("-r", "300"), "how fast it plays"),
        (("-r", "24", "-vf", "scale=8320:64"), "8,320 × 64 pixels"),
    ],
)
def test_what_no_movie_of_a_film_is_like_is_refused_with_what_it_is(tmp_path, how, says):
    path = tmp_path / "odd.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=gray:size=64x64:rate=24:duration=0.5", *how, "-c:v", "libx264", "-pix_fmt", "yuv420p", str(path)],
        check=True,
    )  # fmt: skip
    with pytest.raises(BadInput, match=says) as error:
        keep_movie(path, tmp_path / "out.mp4", "odd.mp4", lambda share: None)
    assert error.value.remedy and not (tmp_path / "out.mp4").exists()


def test_one_that_is_too_long_is_refused_before_it_is_written(tmp_path, monkeypatch):
    monkeypatch.setattr(movie_in, "LONGEST_S", 2.0)
    with pytest.raises(BadInput, match="minutes long"):
        keep_movie(made(tmp_path / "long.mp4"), tmp_path / "out.mp4", "long.mp4", lambda share: None)
    assert not (tmp_path / "out.mp4").exists()


def test_whoever_is_told_no_more_ends_the_writing(tmp_path):
    """A reading that is stopped leaves no process behind."""

    def stop(share):
        raise BrokenPipeError

    with pytest.raises(BrokenPipeError):
        keep_movie(made(tmp_path / "a.mp4", 640, 480), tmp_path / "out.mp4", "a.mp4", stop)
    running = subprocess.run(
        ["pgrep", "-f", str(tmp_path / "out.mp4")], capture_output=True, text=True
    ).stdout
    assert running == ""
