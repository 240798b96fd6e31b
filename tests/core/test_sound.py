"""Sound: files against soundfile and scipy, the mix sample by sample against plain arrays, loudness against ffmpeg."""

import io
import json
import re
import subprocess
import wave
from fractions import Fraction

import imageio_ffmpeg
import numpy as np
import opentimelineio as otio
import pytest
import soundfile
from scipy.io import wavfile

from heron.bake import Bake
from heron.cli import main
from heron.commands.registry import parse, run_one
from heron.demo import slack_tide
from heron.demo.sounds import demo_sounds
from heron.errors import HeronError
from heron.film.frames import Film, Reel
from heron.film.sound import film_mix
from heron.formats.otio import write_otio
from heron.lines import timed
from heron.scene import diff, find, read_scene, write_scene
from heron.scene.patch import apply_patch
from heron.sound.files import SoundFile, heard_until, key_of, packed, read_sound
from heron.sound.loudness import loudness
from heron.sound.mix import mix, write_wav
from heron.sound.samples import frames_for, sample_of
from heron.sound.stretched import MARGIN, stretched

DEMO = slack_tide()
NOISE = np.random.default_rng(20).uniform(-0.4, 0.4, (60_000, 2))
KEY = "0" * 24


def do(scene, **command):
    after, said = run_one(scene, parse([command])[0])
    assert apply_patch(after, diff(after, scene)) == scene
    return after, said


def laid(scene=DEMO, samples=60_000, **more):
    return do(scene, kind="sound.add", id="s", name="Water", file=KEY, samples=samples, **more)


def heard(scene, data=NOISE, **more):
    return np.concatenate(list(mix(scene, lambda key, start, stop: data[start:stop], **more)))


def test_frames_fall_on_the_nearest_sample_and_never_drift():
    # 48,000 over the rate: 2,000 at 24; 2,002 at 23.976; 1,601 and 1,602 in turn at 29.97 (SMPTE: 8,008 in five frames).
    ntsc, film = Fraction(30000, 1001), Fraction(24000, 1001)
    assert sample_of(7, Fraction(24)) == 14_000 and sample_of(1, film) == 2002
    steps = np.diff([sample_of(n, ntsc) for n in range(6)])
    assert set(steps) == {1601, 1602} and steps.sum() == 8008
    assert sample_of(3600 * 30, ntsc) == 172_972_800
    assert [frames_for(n, Fraction(24)) for n in (1, 2000, 2001)] == [1, 1, 2]


@pytest.mark.parametrize(
    ("kind", "subtype", "step"),
    [("WAV", "PCM_U8", 2**-7), ("WAV", "PCM_16", 2**-15), ("WAV", "PCM_24", 2**-23), ("WAV", "FLOAT", 2**-23),
     ("FLAC", "PCM_16", 2**-15), ("OGG", "VORBIS", 0.2), ("MP3", "MPEG_LAYER_III", 0.2)],
)  # fmt: skip
@pytest.mark.parametrize("channels", [1, 2, 8])
def test_files_of_every_kind_are_read_as_they_are(kind, subtype, step, channels):
    if kind == "MP3" and channels > 2:
        return
    data = np.repeat(NOISE[:, :1], channels, axis=1)
    content = io.BytesIO()
    soundfile.write(content, data, 48_000, format=kind, subtype=subtype)
    found = read_sound(content.getvalue(), "x")
    assert found.data.shape[1] == channels and found.said == ()
    count = min(len(found.data), len(data))
    assert count >= len(data) - 2400 and np.abs(found.data[:count] - data[:count]).mean() <= step
    # Kept as 24 bits it is the same to the bit, unless it was a float.
    kept, _ = soundfile.read(io.BytesIO(packed(found)), always_2d=True)
    assert np.abs(kept - found.data).max() <= (
        2**-23 if subtype in ("FLOAT", "VORBIS", "MPEG_LAYER_III") else 0
    )
    assert found.stereo.shape == (len(found.data), 2) and np.array_equal(found.stereo[:, 0], found.data[:, 0])


@pytest.mark.parametrize("rate", [8_000, 44_100, 192_000])
def test_other_rates_are_resampled_once_and_that_is_said(rate):
    tone = np.sin(2 * np.pi * 500 * np.arange(rate) / rate)
    content = io.BytesIO()
    wavfile.write(content, rate, (tone * 16_000).astype("<i2"))
    found = read_sound(content.getvalue(), "tone.wav")
    same = np.sin(2 * np.pi * 500 * np.arange(48_000) / 48_000) * 16_000 / 32_768
    assert len(found.data) == 48_000 and np.abs(found.data[480:-480, 0] - same[480:-480]).max() < 0.002
    assert found.said == (f"tone.wav was resampled from {rate / 1000:g} kHz to 48 kHz",)


def test_files_that_are_none_say_what_is_wrong_and_cut_off_ones_are_kept():
    def wav(data, subtype="PCM_16"):
        out = io.BytesIO()
        soundfile.write(out, data, 48_000, format="WAV", subtype=subtype)
        return out.getvalue()

    bad = NOISE.copy()
    bad[7] = np.nan
    for content, why in (
        (b"just text", "is not a sound file"), (b"", "is not a sound file"), (wav(NOISE[:0]), "holds no samples"),
        (wav(bad, "FLOAT"), "not numbers"), (wav(np.zeros((10, 9))), "has 9 channels"),
    ):  # fmt: skip
        with pytest.raises(HeronError, match=why):
            read_sound(content, "x.wav")
    whole = wav(NOISE)
    cut = read_sound(whole[: len(whole) // 2], "x.wav")
    assert 29_000 < len(cut.data) <= 30_000 and np.abs(cut.data - NOISE[: len(cut.data)]).max() < 2**-15
    loud = read_sound(wav(NOISE * 5, "FLOAT"), "x.wav")
    assert np.abs(loud.data).max() == 1 and "dB over full scale" in loud.said[0]


@pytest.mark.parametrize("rate", ["24/1", "24000/1001", "30000/1001"])
def test_a_sound_of_the_stage_is_heard_wherever_the_cut_shows_its_frames(rate):
    scene, said = laid(DEMO.having(rate=rate), first=1170, gain_db=-6.0, frames=20)
    assert said == "Laid the sound Water at 1170 of the stage"
    fps = Fraction(rate)
    out = heard(scene)
    # 010 shows 1064 to 1176 from the cut's beginning, 020 shows 1165 to 1232 from frame 113 on: 1170 to 1176 are heard twice.
    expected = np.zeros((sample_of(113 + 68 + 51 + 43, fps), 2))
    for cut, into, frames in ((1170 - 1064, 0, 7), (113 + 5, 0, 20)):
        a, b = sample_of(cut, fps), sample_of(cut + frames, fps)
        expected[a:b] += NOISE[into : into + b - a] * 10 ** (-6 / 20)
    np.testing.assert_allclose(out, expected, atol=1e-15)
    for block in (1000, 4801):
        assert np.array_equal(heard(scene, block=block), out)
    assert np.array_equal(heard(scene, first=100, stop=140), out[sample_of(100, fps) : sample_of(140, fps)])


def test_levels_fades_slip_and_lanes_are_as_they_say():
    scene, _ = laid(on="cut", first=10, frames=20, slip=500, fade_in=4, fade_out=8)
    out = heard(scene)[10 * 2000 : 30 * 2000]
    k = np.arange(40_000) + 0.5
    # Equal power: sine and cosine of a quarter turn over the fade (common practice).
    level = np.sin(np.pi / 2 * np.minimum(k / 8000, 1)) * np.sin(
        np.pi / 2 * np.minimum((40_000 - k) / 16_000, 1)
    )
    np.testing.assert_allclose(out, NOISE[500:40_500] * level[:, None], atol=1e-12)
    assert not heard(scene, lanes=("music", "lines")).any() and heard(scene, lanes=("effects",)).any()
    # Past its file it is silent; a mono file is heard on both sides as loud.
    longer, said = laid(on="cut", first=0, frames=60)
    assert (
        said.endswith("; the file ends after 30 f, the rest is silence") and not heard(longer)[60_000:].any()
    )
    assert laid(lane="music")[0].sounds[0].on == "cut" and laid(lane="effects")[0].sounds[0].on == "stage"
    ahead = {"playhead": (1050, 7)}
    assert [laid(**ahead, lane=lane)[0].sounds[0].first for lane in ("effects", "music")] == [1050, 7]
    with pytest.raises(HeronError, match="Frame 900 is before the stage begins"):
        do(laid()[0], kind="sound.set", sound="s", first=900)
    quiet, said = do(scene, kind="sound.set", sound="s", gain_db=-20, fade_in=0)
    np.testing.assert_allclose(heard(quiet)[30_000], heard(scene)[30_000] / 10)
    assert said == "Changed the gain and fade in of the sound Water"
    for command, why in (
        ({"slip": 60_000}, "has ended by then"), ({"first": 900}, "before the stage begins"),
        ({"fade_in": 20, "fade_out": 20, "frames": 30}, "fades of Water are longer"), ({"line": "nobody"}, "no line nobody"),
    ):  # fmt: skip
        with pytest.raises(HeronError, match=why):
            laid(**command)


def test_a_trimmed_sound_is_heard_where_it_was():
    scene, _ = laid(on="cut", first=10)
    whole = heard(scene)
    begun, said = do(scene, kind="sound.trim", sound="s", end="first", by=5)
    assert said == "Trimmed the sound Water: its beginning 5 f later"
    assert np.array_equal(heard(begun)[30_000:], whole[30_000:]) and not heard(begun)[:30_000].any()
    assert do(begun, kind="sound.trim", sound="s", end="first", by=-5)[0].sounds == scene.sounds
    ended, _ = do(scene, kind="sound.trim", sound="s", end="last", by=-5)
    assert np.array_equal(heard(ended)[:70_000], whole[:70_000]) and not heard(ended)[70_000:].any()
    for end, by, why in (
        ("first", -1, "at most 0 f earlier"),
        ("first", 30, "shorter than 1 f"),
        ("last", -30, "shorter than 1 f"),
    ):
        with pytest.raises(HeronError, match=why):
            do(scene, kind="sound.trim", sound="s", end=end, by=by)


def test_a_bed_is_looped_and_cross_faded_at_equal_power():
    scene, _ = laid(on="cut", lane="bed", first=0, frames=100, loop=True)
    out = heard(scene)
    # 60,000 samples, of which a quarter (15,000, less than half a second) is heard over the next beginning.
    over, period = 15_000, 45_000
    np.testing.assert_array_equal(out[:period], NOISE[:period])
    t = np.pi / 2 * (np.arange(over) + 0.5) / over
    seam = np.sin(t)[:, None] * NOISE[:over] + np.cos(t)[:, None] * NOISE[period:]
    for n in (1, 2, 3):
        np.testing.assert_allclose(out[n * period : n * period + over], seam, atol=1e-12)
        np.testing.assert_array_equal(out[n * period + over : (n + 1) * period], NOISE[over:period])
    assert np.array_equal(heard(scene, block=7001), out) and not out[200_000:].any()
    # Of a longer file half a second.
    ramp = np.repeat(np.arange(150_000)[:, None] / 150_000, 2, axis=1)
    long, _ = laid(samples=150_000, on="cut", lane="bed", first=0, frames=100, loop=True)
    sound = heard(long, ramp)
    np.testing.assert_array_equal(sound[:126_000], ramp[:126_000])
    assert sound[126_000, 0] == pytest.approx(126_000 / 150_000, abs=1e-4)
    np.testing.assert_array_equal(sound[150_000:200_000], ramp[24_000:74_000])


def test_a_slipped_sound_stays_where_it_is():
    scene, _ = laid(on="cut", first=10, frames=10, slip=20_000)
    later, said = do(scene, kind="sound.slip", sound="s", by=4)
    assert said == "Slipped the sound Water 4 f later"
    np.testing.assert_array_equal(heard(later)[20_000:40_000], NOISE[12_000:32_000])
    for by, why in ((11, "at most 10 f later"), (-30, "at most 19 f earlier")):
        with pytest.raises(HeronError, match=why):
            do(scene, kind="sound.slip", sound="s", by=by)


def test_a_line_is_as_long_as_its_sound_and_moves_it():
    scene, _ = do(
        DEMO.having(stand_ins=False),
        kind="line.add",
        id="a",
        figure="fig-odile",
        text="You've missed the tide.",
        first=1100,
    )
    scene, _ = do(scene, kind="line.add", id="b", figure="fig-bram", text="Then I'll wait.")
    spoken, said = laid(scene, line="a")
    first, second = timed(spoken)
    # 60,000 samples are 30 frames at 24; the words share them, and the next line follows.
    assert (first.first, first.last, second.first) == (1100, 1129, 1136) and first.words[-1] < 1129
    assert said == "Laid the sound Water of “You've missed the tide.”"
    later, _ = do(spoken, kind="lines.move", ids=["a"], by=20)
    assert np.array_equal(heard(later)[40_000:], heard(spoken)[:-40_000]) and heard(spoken).any()
    with pytest.raises(HeronError, match="Move the line"):
        do(spoken, kind="sound.set", sound="s", first=1200)
    again, said = do(spoken, kind="sound.add", id="t", name="Better", file=KEY, samples=24_000, line="a")
    assert [one.id for one in again.sounds] == ["t"] and said.endswith("; Water is kept as a try")
    # Each as long as it was: one is chosen again, and takes the line's length with it.
    chosen, _ = do(again, kind="sound.choose", sound="t", name="Water")
    assert [(timed(one)[0].last - 1099) for one in (again, chosen)] == [12, 30]
    assert np.array_equal(heard(chosen), heard(spoken))
    twice, _ = do(
        chosen,
        kind="sound.add",
        id="u",
        name="Water",
        file=KEY,
        samples=60_000,
        slip=10_000,
        until=30_001,
        line="a",
    )
    assert [one.name for one in twice.sounds[0].tries] == ["Better", "Water"] and twice.sounds[
        0
    ].name == "Water 2"
    # 20,001 samples are heard: eleven frames of 2,000 hold them.
    assert twice.sounds[0].frames == 11
    dropped, said = do(twice, kind="sound.drop_try", sound="u", name="Water 2")
    assert (dropped.sounds[0].name, said) == ("Water", "Deleted the try Water 2; Water is chosen now")
    alone, _ = do(dropped, kind="sound.drop_try", sound="u", name="Better")
    for name, words in (("Water", "Water is the only try"), ("Gone", "no other try called Gone")):
        with pytest.raises(HeronError, match=words):
            do(alone, kind="sound.drop_try", sound="u", name=name)
    gone, _ = do(spoken, kind="things.delete", ids=["a"])
    assert gone.sounds == () and read_scene(write_scene(spoken)).sounds == spoken.sounds


def margins(data):
    return np.pad(np.repeat(data[:, None], 2, axis=1), ((MARGIN, MARGIN), (0, 0)))


@pytest.mark.parametrize("slower", [2, 4])
def test_slower_the_pitch_stays_and_what_is_heard_comes_when_it_is_due(tmp_path, slower):
    seconds = np.arange(5 * 48_000) / 48_000
    chord = sum(0.2 * np.sin(2 * np.pi * f * seconds) for f in (110, 440, 997, 3000))
    out = stretched(margins(chord), slower * len(chord))[:, 0]
    power, at = np.abs(np.fft.rfft(out * np.hanning(len(out)))) ** 2, np.fft.rfftfreq(len(out), 1 / 48_000)
    near = [np.abs(at / f - 1) < 0.03 for f in (110, 440, 997, 3000)]
    # A hundredth is a sixth of a semitone.
    assert [at[band][power[band].argmax()] for band in near] == pytest.approx([110, 440, 997, 3000], rel=0.01)
    assert power[np.any(near, axis=0)].sum() > 0.95 * power.sum()
    assert np.sqrt((out**2).mean()) == pytest.approx(np.sqrt((chord**2).mean()), rel=0.05)
    # Knocks come within the frame that shows them; in what ffmpeg makes of them (atempo) nearly so.
    knocks = np.zeros(5 * 48_000)
    for at in (30_000, 100_000, 170_000):
        knocks[at : at + 400] = np.sin(2 * np.pi * 1000 * np.arange(400) / 48_000) * 0.8
    path, to = tmp_path / "in.wav", tmp_path / "out.wav"
    wavfile.write(path, 48_000, knocks.astype(np.float32))
    tempo = ",".join(["atempo=0.5"] * (slower // 2))
    subprocess.run(
        [imageio_ffmpeg.get_ffmpeg_exe(), "-v", "error", "-i", path, "-af", tempo, "-c:a", "pcm_f32le", to], check=True
    )  # fmt: skip
    theirs, ours = wavfile.read(to)[1], stretched(margins(knocks), slower * len(knocks))[:, 0]
    for at in (30_000, 100_000, 170_000):
        for heard_, near in ((ours, 1 / 24), (theirs, 0.06)):
            window = np.abs(heard_[slower * at - 9_600 : slower * at + 9_600])
            begins = np.flatnonzero(window > 0.2)[0] - 9_600
            assert abs(begins) < near * 48_000 * slower, (at, begins)


def test_stretches_made_apart_join_without_a_seam():
    data = np.sin(2 * np.pi * 217 * np.arange(300_000) / 48_000)
    wide = margins(data)
    half = 150_000
    one = stretched(wide[: half + 2 * MARGIN], 2 * half)
    two = stretched(wide[half:], 2 * half)
    step = 2 * np.sin(np.pi * 217 / 48_000)
    assert abs(two[0, 0] - one[-1, 0]) < 2 * step
    assert np.array_equal(stretched(wide, 300_000), wide[MARGIN:-MARGIN])
    assert not stretched(margins(np.zeros(9_600)), 19_200).any()


def test_a_recording_ends_a_tenth_of_a_second_after_its_last_word():
    data = np.zeros((96_000, 1), dtype=np.float32)
    data[20_000:30_000] = 0.5
    data[40_000] = 0.004  # 42 dB below the loudest: breath
    assert heard_until(SoundFile(data)) == 30_000 + 4_800
    assert heard_until(SoundFile(data[:31_000])) == 31_000 and heard_until(SoundFile(data * 0)) == 96_000


def test_the_loudness_is_that_of_ffmpeg(tmp_path):
    tone = np.repeat(0.1 * np.sin(2 * np.pi * 997 * np.arange(5 * 48_000) / 48_000)[:, None], 2, axis=1)
    for data in (tone, np.cumsum(np.random.default_rng(3).normal(0, 0.004, (240_000, 2)), axis=0) % 0.5):
        path = tmp_path / "x.wav"
        soundfile.write(path, data, 48_000, subtype="PCM_24")
        lufs, peak = loudness(read_sound(path.read_bytes(), "x.wav"))
        told = subprocess.run(
            [imageio_ffmpeg.get_ffmpeg_exe(), "-nostats", "-i", str(path), "-af", "ebur128=peak=true", "-f", "null", "-"],
            capture_output=True, text=True, check=True,
        ).stderr  # fmt: skip
        assert lufs == pytest.approx(float(re.findall(r"I:\s+(-?[\d.]+) LUFS", told)[-1]), abs=0.15)
        assert peak == pytest.approx(float(re.findall(r"Peak:\s+(-?[\d.]+) dBFS", told)[-1]), abs=0.3)
    # A sine of 997 Hz at −20 dBFS on both sides is −20 LUFS (BS.1770).
    assert loudness(read_sound(wav_of(tone), "x"))[0] == pytest.approx(-20, abs=0.1)
    with pytest.raises(HeronError, match=r"0.10 s are too short"):
        loudness(read_sound(wav_of(tone[:4800]), "x"))
    assert loudness(read_sound(wav_of(tone * 0), "x")) == (None, None)


def wav_of(data):
    out = io.BytesIO()
    soundfile.write(out, data, 48_000, format="WAV", subtype="PCM_24")
    return out.getvalue()


def test_the_command_line_brings_in_mixes_and_measures(tmp_path, capsys):
    def heron(*words):
        code = main([str(word) for word in words])
        return code, capsys.readouterr()

    scene, one, two, out = (tmp_path / name for name in ("s.json", "one.json", "far/two.json", "mix.wav"))
    out.parent.mkdir(exist_ok=True)
    two.parent.mkdir()
    scene.write_text(write_scene(DEMO))
    steps = (NOISE[:48_000, 0] * 32_767).astype("<i2")
    wavfile.write(tmp_path / "steps.wav", 48_000, steps)
    assert heron("bring", scene, tmp_path / "steps.wav", "--at", 1074, "--out", one)[0] == 0
    code, told = heron(
        "bring",
        one,
        tmp_path / "steps.wav",
        "--on",
        "cut",
        "--lane",
        "music",
        "--at",
        100,
        "--gain",
        "-6",
        "--out",
        two,
    )
    assert code == 0 and "steps at 100 of the cut" in json.loads(told.out)["said"]
    code, told = heron("mix", two, "--out", out)
    assert code == 0 and json.loads(told.out)["frames"] == 275
    with wave.open(str(out)) as file:
        assert (file.getnchannels(), file.getsampwidth(), file.getframerate(), file.getnframes()) == (
            2,
            3,
            48_000,
            550_000,
        )
    _, mixed = wavfile.read(out)
    # By scipy, sample for sample: 16 bits in the upper bits of 32, on both sides, from the tenth frame on.
    assert np.array_equal(mixed[20_000:68_000], np.repeat(steps[:, None].astype("i4") << 16, 2, axis=1))
    half = np.rint(steps / 32_768 * 10 ** (-6 / 20) * 2**23).astype("i4") << 8
    assert np.abs(mixed[200_000:248_000, 0] - half).max() <= 256
    assert heron("mix", two, "--frames", "10-33", "--lanes", "effects", "--out", out)[0] == 0
    assert np.array_equal(wavfile.read(out)[1][:, 0], steps.astype("i4") << 16)
    code, told = heron("loudness", out)
    assert code == 0 and set(json.loads(told.out)) == {"integrated_lufs", "true_peak_dbtp"}
    (tmp_path / "text.wav").write_text("hello")
    for words, why in (
        (("bring", scene, tmp_path / "text.wav", "--out", one), "text.wav is not a sound file"),
        (("mix", two, "--lanes", "voices", "--out", out), "There is no lane 'voices'"),
        (("mix", two, "--frames", "200-275", "--out", out), "not all in the cut"),
    ):
        code, told = heron(*words)
        assert code == 2 and why in told.err
    for file in (two.parent / "sounds").iterdir():
        file.unlink()
    code, told = heron("mix", two, "--out", out)
    assert code == 2 and "Bring it in again" in told.err


def test_what_is_over_full_scale_is_cut_off_and_its_height_told(tmp_path):
    highest = write_wav(tmp_path / "x.wav", iter([np.array([[1.5, -2.0], [0.25, -1.0]])]))
    assert highest == 2.0
    assert wavfile.read(tmp_path / "x.wav")[1].tolist() == [
        [(2**23 - 1) << 8, -(2**31)],
        [2**21 << 8, -(2**31)],
    ]
    assert key_of(b"a") != key_of(b"b") and len(key_of(b"")) == 24


def test_the_demos_steps_are_heard_where_feet_come_down():
    scene = slack_tide()
    water, steps, call = demo_sounds(scene, "fig-odile")
    for one in (water, steps, call):
        assert 0.5 < np.abs(one.data).max() <= 1
        assert do(scene, kind="sound.add", name=one.name, file=KEY, samples=len(one.data), **one.laid)
    # A knock has far more in the twentieth of a second after a heel comes down than in the one before.
    feet = Bake(scene).performance(find(scene, "figures", "fig-odile")).feet.values()
    downs = sorted(
        int(n) + 1 for foot in feet for n in np.flatnonzero(np.diff(foot.planted.astype(int)) == 1)
    )
    energy = lambda at: float((steps.data[at : at + 2400] ** 2).sum())  # noqa: E731
    for down in downs[1:]:
        at = (down - downs[0]) * 2000
        assert energy(at) > 20 * energy(at - 2400)


def test_sounds_go_out_as_audio_tracks_in_samples():
    scene, _ = laid(DEMO.having(rate="30000/1001"), first=1170, frames=20, slip=300, gain_db=-3)
    scene, _ = do(scene, kind="sound.add", id="t", name="Gull", file="1" * 24, samples=9000, first=1172)
    scene, _ = do(
        scene, kind="sound.add", id="m", name="Tune", file="2" * 24, samples=48_000, lane="music", first=30
    )
    timeline = otio.adapters.read_from_string(write_otio(scene), "otio_json")
    water, gulls, music = timeline.audio_tracks()
    assert [track.name for track in timeline.audio_tracks()] == ["Effects", "Effects 2", "Music"]
    # Read back by its own algebra: where a clip lies on its track, in samples; 010 shows 1170 on cut frame 106.
    fps = Fraction(30_000, 1001)
    first = water.find_clips()[0]
    placed = first.range_in_parent()
    assert (placed.start_time.value, placed.start_time.rate) == (sample_of(106, fps), 48_000)
    assert (
        first.source_range.start_time.value == 300
        and first.media_reference.target_url == f"sounds/{KEY}.flac"
    )
    assert (
        first.metadata["mellow_heron"]["gain_db"] == -3 and first.available_range().duration.value == 60_000
    )
    # In 010 for seven frames, in 020 whole.
    counts = [clip.source_range.duration.value for clip in water.find_clips()]
    assert counts == [sample_of(113, fps) - sample_of(106, fps), sample_of(138, fps) - sample_of(118, fps)]
    assert [clip.name for clip in gulls.find_clips()] == ["Gull", "Gull"]
    assert music.find_clips()[0].range_in_parent().start_time.value == sample_of(30, fps)


@pytest.mark.parametrize(
    ("rate", "fit", "by"), [("24/1", None, 1), ("25/1", "time", 1), ("25/1", "frames", Fraction(25, 24))]
)
def test_a_film_is_heard_scene_after_scene(rate, fit, by):
    tone = np.repeat(0.3 * np.sin(2 * np.pi * 440 * np.arange(96_000) / 48_000)[:, None], 2, axis=1)
    scene, _ = laid(on="cut", first=0, samples=96_000)
    film = Film([Reel("A", 24, Fraction(24), fit, 4), Reel("B", 24, Fraction(24), fit)], Fraction(rate))
    blocks = list(film_mix(film, [scene, scene.having(sounds=())], lambda key, start, stop: tone[start:stop]))
    out = np.concatenate(blocks)
    assert len(out) == sample_of(film.length, film.rate)
    # By counting zero crossings: the pitch is that of the tone, or as much higher as frames run faster.
    heard_ = out[2000 : sample_of(film.begins[1], film.rate) - 2000, 0]
    crossings = np.count_nonzero(np.diff(np.signbit(heard_)))
    assert crossings / len(heard_) * 24_000 == pytest.approx(440 * float(by), rel=0.01)
    assert not out[sample_of(film.begins[1], film.rate) :].any()
    if by == 1:
        # Its cut is shown from frame 4 on.
        np.testing.assert_allclose(out[:40_000], tone[8000:48_000], atol=1e-12)
