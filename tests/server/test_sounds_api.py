"""Sound over the API: files kept by what they hold, the mix as the core makes it, and movies that have it in step."""

import io
import json
import subprocess
import zipfile
from fractions import Fraction

import numpy as np
import opentimelineio as otio
import pytest
import soundfile
from django.test import Client
from scipy.io import wavfile

from heron.commands import parse_commands, run
from heron.dailies.asked import Render
from heron.scene import empty_scene
from heron.sound.mix import write_wav
from mellow.actors import Actor
from mellow.dailies import media, work
from mellow.dailies.movie import write_movie
from mellow.dailies.packing import pack_take
from mellow.productions import rows
from mellow.productions.api.scenes import production

NOISE = np.random.default_rng(7).uniform(-0.5, 0.5, 96_000)


def wav(data):
    out = io.BytesIO()
    soundfile.write(out, data, 48_000, format="WAV", subtype="PCM_16")
    return out.getvalue()


def sent(desk, data, name="Water.wav"):
    return desk.client.post(f"/api/sounds?name={name}", wav(data), content_type="application/octet-stream")


def test_a_sound_is_kept_once_laid_and_heard_as_the_core_mixes_it(desk):
    kept = sent(desk, NOISE).json()
    assert kept == {
        "key": kept["key"],
        "samples": 96_000,
        "until": 96_000,
        "level": kept["level"],
        "said": [],
    }
    # Noise is as loud all along.
    assert set(kept["level"]) <= set("uvwxyz") and len(kept["level"]) == 100
    assert sent(desk, NOISE, "Again.wav").json()["key"] == kept["key"]
    put = {"kind": "sound.add", "id": "s", "name": "Water", "file": kept["key"], "samples": 96_000}
    before = desk.get().json()["keys"]["scene:sounds"]
    assert desk.do(**put, first=1170, gain_db=-6, frames=20).status_code == 200
    told = desk.get().json()
    assert told["keys"]["scene:sounds"] != before
    assert json.loads(desk.get("/samples/scene:sounds").content) == [
        {"id": "s", "first": 1170, "period": None}
    ]
    # 020 shows 1165 to 1232 from frame 113 of the cut on; the stage is counted from 1001.
    part = np.rint(NOISE[:20_000] * 32_768) / 32_768 * 10 ** (-6 / 20)
    for on, first in (("cut", 113 + 5), ("stage", 169)):
        rate, heard = wavfile.read(io.BytesIO(desk.get(f"/heard?on={on}&first={first}&count=10").content))
        assert rate == 48_000 and heard.shape == (20_000, 2)
        assert np.abs(heard[:, 1] - np.rint(part * 32_767)).max() <= 1
    assert not wavfile.read(io.BytesIO(desk.get("/heard?on=cut&first=118&count=10&lanes=music").content))[
        1
    ].any()
    assert desk.get("/heard?on=cut&first=0&count=99999").status_code == 400
    peaks = np.frombuffer(desk.client.get(f"/api/sounds/{kept['key']}/peaks").content, "i1").reshape(-1, 2)
    # By hand: a hundred pairs a second.
    rows_ = NOISE.reshape(-1, 480)
    assert len(peaks) == 200 and np.abs(peaks[:, 1] - rows_.max(axis=1) * 127).max() <= 1
    assert np.abs(peaks[:, 0] - rows_.min(axis=1) * 127).max() <= 1


def test_what_is_no_sound_is_refused_in_a_sentence(desk):
    answer = desk.client.post("/api/sounds?name=notes.wav", b"text", content_type="application/octet-stream")
    assert (
        answer.status_code == 400
        and answer.json()["title"] == "notes.wav is not a sound file that can be read."
    )
    assert desk.client.get(f"/api/sounds/{'0' * 24}/peaks").status_code == 404


def test_a_sound_whose_file_is_not_here_is_silent_and_named_before_it_is_rendered(desk):
    desk.do(kind="sound.add", name="Lost gulls", file="0" * 24, samples=96_000, on="cut", first=0)
    assert not wavfile.read(io.BytesIO(desk.get("/heard?on=cut&first=0&count=10").content))[1].any()
    said = desk.post("takes", {"of": "cut", "high": 72}).json()["said"]
    assert said[-1] == "The files of these sounds are not here, so the movie is without them: Lost gulls."


@pytest.mark.django_db
@pytest.mark.parametrize("rate", ["24/1", "24000/1001", "30000/1001"])
def test_the_movie_has_its_sound_in_step(rate, settings, tmp_path):
    settings.MEDIA = str(tmp_path)
    fps, count = Fraction(rate), 240
    click = np.zeros(48_000 * 12)
    # A click where frame 200 of the cut begins.
    at = round(200 * 48_000 / fps)
    click[at : at + 480] = 0.9
    client = Client()
    kept = client.post(
        "/api/sounds?name=click.wav", wav(click), content_type="application/octet-stream"
    ).json()
    commands = [
        {"kind": "shot.add", "id": "one", "name": "010"},
        {"kind": "sound.add", "name": "Click", "file": kept["key"], "samples": kept["samples"], "on": "cut", "first": 0},
    ]  # fmt: skip
    scene = run(empty_scene("Clapper").having(rate=rate), parse_commands(json.dumps(commands)))[0]
    length = scene.shots[0].stage.count
    more = {"kind": "cut.edit", "do": {"edit": "trim_out", "shots": ["010"], "by": count - length}}
    row = rows.create(production(), run(scene, parse_commands(json.dumps([more])))[0])
    take = work.begin(row, Render(high=72, slate=False), Actor("artist"))
    pack_take(take.pk)
    (movie,) = media.folder(take.pk).glob("*.mp4")
    said = subprocess.run(
        ["ffprobe", "-v", "error", "-show_streams", "-of", "json", str(movie)],
        capture_output=True,
        check=True,
    ).stdout
    sound = next(s for s in json.loads(said)["streams"] if s["codec_type"] == "audio")
    picture = next(s for s in json.loads(said)["streams"] if s["codec_type"] == "video")
    assert (sound["codec_name"], sound["sample_rate"], sound["channels"]) == ("aac", "48000", 2)
    # Begins and ends with the picture, within a frame.
    assert abs(float(sound["start_time"]) - float(picture["start_time"])) < 1 / fps
    assert abs(float(sound["duration"]) - float(picture["duration"])) < 1 / fps
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(movie), "-map", "0:a", "-f", "f32le", "-ac", "1", "-"], capture_output=True, check=True
    ).stdout  # fmt: skip
    begins = int(np.argmax(np.abs(np.frombuffer(raw, "<f4")) > 0.45))
    assert abs(begins - at) < 48_000 / fps / 4
    # The mix is handed over too, sample for sample.
    (mixed,) = media.folder(take.pk).glob("*.wav")
    assert np.array_equal(
        wavfile.read(mixed)[1][at : at + 480, 0] >> 16, np.rint(click[at : at + 480] * 32_768).astype("i4")
    )
    assert client.get(f"/api/takes/{take.pk}/files/sound").status_code == 200


@pytest.mark.django_db
def test_a_take_hands_over_the_files_its_timeline_names_and_a_mix_with_a_tone_where_a_leader_is_asked(
    settings, tmp_path, monkeypatch
):
    monkeypatch.setenv("HERON_VOICE", "own")
    settings.MEDIA = str(tmp_path)
    client = Client()
    kept = client.post(
        "/api/sounds?name=noise.wav", wav(NOISE), content_type="application/octet-stream"
    ).json()
    commands = [
        {"kind": "shot.add", "id": "one", "name": "010", "stage": {"first": 1001, "last": 1048}},
        {
            "kind": "sound.add",
            "name": "Noise",
            "file": kept["key"],
            "samples": 96_000,
            "on": "cut",
            "first": 0,
        },
    ]
    scene = run(empty_scene("Clapper"), parse_commands(json.dumps(commands)))[0]
    take = work.begin(
        rows.create(production(), scene), Render(high=72, slate=False, leader=True), Actor("artist")
    )
    pack_take(take.pk)
    root = media.folder(take.pk)
    zipped = client.get(f"/api/takes/{take.pk}/files/sounds")
    names = zipfile.ZipFile(io.BytesIO(b"".join(zipped.streaming_content))).namelist()
    assert names == [f"sounds/{kept['key']}.flac"]
    (timeline,) = root.glob("*.otio")
    # What the timeline names lies beside it.
    clips = [
        c
        for c in otio.adapters.read_from_file(str(timeline)).find_clips()
        if isinstance(c.media_reference, otio.schema.ExternalReference)
        and ".flac" in c.media_reference.target_url
    ]
    assert [c.media_reference.target_url for c in clips] == names and (root / names[0]).exists()
    _, toned = wavfile.read(next(root.glob("*_tone.wav")))
    _, mixed = wavfile.read(next(one for one in root.glob("*.wav") if "tone" not in one.name))
    tone = toned[:48_000, 0] / 2**31
    # −20 dBFS of a sine is a peak of a tenth (AES17); a thousand periods a second.
    assert np.abs(tone).max() == pytest.approx(0.1, rel=1e-4)
    assert np.argmax(np.abs(np.fft.rfft(tone))) == 1000 and not toned[48_000:96_000].any()
    assert np.array_equal(toned[96_000:], mixed)
    assert client.get(f"/api/takes/{take.pk}/files/tone").status_code == 200


def test_the_sound_files_of_a_cut_are_handed_over_with_stand_ins_spoken(desk, monkeypatch):
    monkeypatch.setenv("HERON_VOICE", "own")
    refused = desk.get("/export/sounds")
    assert refused.status_code == 404 and refused.json()["title"] == "There is no sound in the cut."
    desk.do(kind="line.add", figure="fig-odile", text="You've missed the tide.", first=1190)
    content = b"".join(desk.get("/export/sounds").streaming_content)
    sheet = zipfile.ZipFile(io.BytesIO(content))
    (name,) = sheet.namelist()
    timeline = otio.adapters.read_from_string(desk.get("/export/otio").content.decode(), "otio_json")
    clips = [c for t in timeline.audio_tracks() for c in t if isinstance(c, otio.schema.Clip)]
    assert {c.media_reference.target_url for c in clips} == {name}
    data, rate = soundfile.read(io.BytesIO(sheet.read(name)))
    assert (
        rate == 48_000 and len(data) == clips[0].media_reference.available_range.duration.value and data.any()
    )


def test_after_ten_minutes_picture_and_sound_are_still_in_step(tmp_path):
    rate, frames, at = Fraction(24_000, 1001), 14_400, 14_300
    begins = round(at * 48_000 / rate)
    sound = np.zeros((round(frames * 48_000 / rate), 2))
    sound[begins : begins + 480] = 0.9
    write_wav(tmp_path / "x.wav", iter([sound]))
    dark, light = bytes(32 * 18 * 3), bytes([255]) * (32 * 18 * 3)
    movie = tmp_path / "x.mp4"
    write_movie(
        movie, (light if n == at else dark for n in range(frames)), 32, 18, rate, 20, None, tmp_path / "x.wav"
    )
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(movie), "-map", "0:a", "-f", "f32le", "-ac", "1", "-"], capture_output=True, check=True
    ).stdout  # fmt: skip
    heard = int(np.argmax(np.abs(np.frombuffer(raw, "<f4")) > 0.45)) / 48_000
    told = subprocess.run(
        ["ffprobe", "-v", "error", "-select_streams", "v", "-show_entries", "packet=pts_time", "-of", "csv=p=0", str(movie)],
        capture_output=True, check=True, text=True,
    ).stdout  # fmt: skip
    seen = sorted(float(one.strip(",")) for one in told.split())[at]
    assert abs(heard - seen) < 1 / float(rate) / 2, (heard, seen)
