"""What a render draws and hands over, and takes held against each other: against arithmetic and OpenTimelineIO."""

import io
import json
import re

import opentimelineio as otio
import pytest
from PIL import Image

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.frames import plan
from heron.dailies.manifest import manifest
from heron.dailies.slate import slate
from heron.dailies.takes import Did, Shown, beside, different, done_between
from heron.demo import slack_tide
from heron.errors import BadInput, NotFound, Refused
from heron.fonts import BARLOW, NOTO, font_for
from heron.formats.contact_sheet import write_contact_sheet
from heron.formats.otio import media_of, write_otio
from heron.scene import find
from heron.scene.document import empty_scene
from heron.timebase import Frames


def do(scene, *commands):
    return run(scene, parse_commands(json.dumps(list(commands))))[0]


@pytest.fixture(scope="module")
def gapped():
    """Shots 010 (1064–1176, A), black for 12 frames, 020 (1165–1232, B), 030 (1233–1283, C), 040 (1278–1320, D)."""
    return do(slack_tide(), {"kind": "shot.set", "shot": "shot-020", "gap_before": 12})


def test_the_movie_is_the_cut_with_its_gaps_and_spare_frames_are_outside_it(gapped):
    bare, made = plan(gapped, Render()), plan(gapped, Render(spare=5))
    counts = [113, 68, 51, 43]
    assert [s.stage.count for s in gapped.shots] == counts
    assert len(bare.movie) == len(made.movie) == sum(counts) + 12 == Clocks(gapped).length
    assert made.movie[113:125] == [None] * 12 and made.movie.count(None) == 12
    # 040 ends with the stage: its five spare frames after that are not there.
    assert len(made.frames) == sum(counts) + 8 * 5 - 5
    assert made.said == ["The stage ends before 5 frames of the spare ones; those are left out."]
    for render in (bare, made):
        shown = [render.frames[at] for at in render.movie if at is not None]
        assert [f.cut for f in shown] == [i for i, at in enumerate(render.movie) if at is not None]
    spare = [f for f in made.frames if f.shot == "020" and f.cut is None]
    assert [f.stage for f in spare] == [*range(1160, 1165), *range(1233, 1238)]
    assert {f.camera for f in spare} == {"B"}


def test_around_a_cut_the_last_frame_is_the_old_camera_and_the_next_the_new(gapped):
    made = plan(gapped, Render())
    at = {f.cut: f for f in made.frames}
    # 030 begins after 113 + 12 + 68 frames.
    assert (at[192].camera, at[192].stage, at[193].camera, at[193].stage) == ("B", 1232, "C", 1233)


def test_shots_follow_each_other_and_a_camera_is_drawn_over_a_range(gapped):
    chosen = plan(gapped, Render(of="shots", shots=("shot-040", "shot-020")))
    # In the order of the cut, without the black between.
    assert [chosen.frames[at].shot for at in (0, 67, 68, -1)] == ["020", "020", "040", "040"]
    assert chosen.movie == list(range(68 + 43))
    one = plan(gapped, Render(of="camera", camera="cam-e", frames=Frames(first=1300, last=1309)))
    assert [f.stage for f in one.frames] == list(range(1300, 1310))
    assert {(f.cut, f.shot, f.camera) for f in one.frames} == {(None, "", "E")}
    assert one.frames[0].name == "camera-E/Slack_Tide_camera-E.1300"
    assert one.slates[0].endswith("stage 1300")


def test_a_movies_sides_are_even_and_pictures_may_be_odd(gapped):
    odd = plan(gapped, Render(high=541))
    # 541 × 16/9 = 961.8.
    assert (odd.wide, odd.high) == (962, 542) and "962 × 541 is drawn as 962 × 542" in odd.said[0]
    alone = plan(gapped, Render(high=541, movie=False, pictures="png"))
    assert (alone.wide, alone.high, alone.said) == (962, 541, [])
    assert plan(gapped, Render(high=1080)).said == []


@pytest.mark.parametrize(
    ("render", "error", "says"),
    [
        (Render(movie=False), Refused, "This would render nothing. Choose a movie, pictures, or both."),
        (Render(of="shots"), Refused, "No shot is chosen. Choose one or more, or the whole cut."),
        (Render(of="camera"), Refused, "No camera is chosen. Choose one"),
        (Render(of="shots", shots=("shot-099",)), NotFound, "shot-099"),
        (Render(of="camera", camera="cam-zz"), NotFound, "cam-zz"),
        (
            Render(of="camera", camera="cam-a", frames=Frames(first=990, last=1010)),
            BadInput,
            "990–1010 are not all on the stage",
        ),
    ],
)
def test_what_cannot_be_drawn_is_refused_in_a_sentence(render, error, says):
    with pytest.raises(error, match=re.escape(says)):
        plan(slack_tide(), render)


def test_a_cut_of_nothing_and_an_aspect_that_is_none_are_refused():
    with pytest.raises(Refused, match="no shots in the cut"):
        plan(empty_scene("Nothing"), Render())
    with pytest.raises((ValueError, BadInput), match="wide"):
        Render(lines=("protect",), protect="wide")


def test_spare_frames_say_how_far_from_the_shot_they_are(gapped):
    clocks, bake, camera = Clocks(gapped), Bake(gapped), find(gapped, "cameras", "cam-b")
    assert slate(gapped, bake, camera, 1162, clocks, 1).endswith("stage 1162 · spare, 3 before the shot")
    assert slate(gapped, bake, camera, 1240, clocks, 1).endswith("stage 1240 · spare, 8 after the shot")
    assert "shot 1/68" in slate(gapped, bake, camera, 1165, clocks, 1)


@pytest.mark.parametrize(("metres", "told"), [(4.5, "4.50 m"), (None, "∞")])
def test_the_slate_says_where_the_focus_is(gapped, metres, told):
    on = {"kind": "distance", "metres": metres}
    scene = do(gapped, {"kind": "focus.set", "camera": "cam-b", "on": on})
    text = slate(scene, Bake(scene), find(scene, "cameras", "cam-b"), 1200)
    assert told in text.split(" · ")


def test_the_manifest_names_every_picture_with_its_clocks(gapped):
    render = Render(pictures="png", spare=1)
    made = plan(gapped, render)
    said = json.loads(manifest(gapped, render, made, 7, "png"))
    assert (said["take"], said["rate"], said["size"]) == (7, "24/1", [960, 540])
    first = next(p for p in said["pictures"] if p["shot"] == "020" and p["cut"] is not None)
    # The cut begins at one hour: 113 + 12 frames later is 5 s and 5 frames.
    assert (first["file"], first["timecode"]) == ("020/Slack_Tide_020.1165.png", "01:00:05:05")
    assert len(said["pictures"]) == len(made.frames)


def inside(part, whole):
    return whole.start_time <= part.start_time and part.end_time_exclusive() <= whole.end_time_exclusive()


def test_the_timeline_points_at_pictures_and_its_ranges_fit(gapped, tmp_path):
    made = plan(gapped, Render(pictures="png", spare=4))
    for frame in made.frames:
        path = tmp_path / f"pictures/{frame.name}.png"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.touch()
    text = write_otio(gapped, media_of(Render(pictures="png", spare=4), made, "m.mp4", "png"))
    clips = list(otio.adapters.read_from_string(text, "otio_json").find_clips())
    assert [c.name for c in clips] == ["010", "020", "030", "040"]
    for clip in clips:
        media = clip.media_reference
        assert isinstance(media, otio.schema.ImageSequenceReference)
        has, wants = media.available_range, clip.source_range
        assert inside(wants, has)
        urls = [media.target_url_for_image_number(i) for i in range(media.number_of_images_in_sequence())]
        assert len(urls) == has.duration.value and all((tmp_path / url).exists() for url in urls)
    assert clips[1].source_range.start_time.value == 1165
    assert clips[1].media_reference.start_frame == 1161


@pytest.mark.parametrize("chosen", [("010", "020", "030", "040"), ("020", "040")])
def test_the_timeline_points_at_the_movie_in_its_own_timecode(gapped, chosen):
    whole = len(chosen) == 4
    ids = tuple(shot.id for shot in gapped.shots if shot.name in chosen)
    render = Render() if whole else Render(of="shots", shots=ids)
    made = plan(gapped, render)
    (track,) = otio.adapters.read_from_string(
        write_otio(gapped, media_of(render, made, "m.mp4", "png")), "otio_json"
    ).video_tracks()
    clips = list(track.find_clips())
    assert [clip.name for clip in clips] == list(chosen)
    one = next(clip for clip in clips if clip.name == "020")
    assert one.media_reference.target_url == "m.mp4"
    assert (
        one.source_range.start_time.to_timecode() == "01:00:05:05" and one.source_range.duration.value == 68
    )
    # Each stands where it stands in the cut, whether or not the others were rendered.
    starts = {c.name: c.transformed_time(c.source_range.start_time, track).value for c in clips}
    assert starts["020"] == 113 + 12 and starts["040"] == 113 + 12 + 68 + 51
    for clip in clips:
        assert inside(clip.source_range, clip.available_range())
        # The movie's frame that it begins with is the shot's first.
        at = (clip.source_range.start_time - clip.available_range().start_time).value
        shown = made.frames[made.movie[int(at)]]
        assert (shown.shot, shown.stage) == (clip.name, clip.metadata["mellow_heron"]["stage_first"])
        for marker in clip.markers:
            assert clip.source_range.contains(marker.marked_range.start_time)
            stage = marker.metadata["mellow_heron"]["stage"]
            shot = next(s for s in gapped.shots if s.name == clip.name)
            since = marker.marked_range.start_time - clip.source_range.start_time
            assert since.value == stage - shot.stage.first
    assert len(made.movie) == clips[0].available_range().duration.value


def sheet_picture(colour):
    out = io.BytesIO()
    Image.new("RGB", (64, 36), colour).save(out, "JPEG")
    return out.getvalue()


def test_the_contact_sheet_is_a_pdf_with_six_shots_a_page(gapped):
    pictures = {shot.id: sheet_picture((60 * i, 90, 90)) for i, shot in enumerate(gapped.shots)}
    made = write_contact_sheet(gapped, pictures)
    assert made.startswith(b"%PDF-") and made.rstrip().endswith(b"%%EOF")
    assert len(re.findall(rb"/Subtype /Image", made)) == 4 and len(re.findall(rb"/Type /Page\b", made)) == 1
    seven = do(
        gapped,
        *[
            {"kind": "shot.add", "camera": "cam-e", "stage": {"first": 1001 + i, "last": 1020}}
            for i in range(3)
        ],
    )
    assert len(re.findall(rb"/Type /Page\b", write_contact_sheet(seven, {}))) == 2
    noted = do(gapped, {"kind": "shot.set", "shot": "shot-010", "note": "Ждём <b>&"})
    assert b"NotoSans" in write_contact_sheet(noted, {}) and b"NotoSans" not in made
    with pytest.raises(BadInput, match="picture of shot 010 cannot be read"):
        write_contact_sheet(gapped, {"shot-010": b"no picture"})
    with pytest.raises(Refused, match="no shots"):
        write_contact_sheet(empty_scene("Nothing"), {})


@pytest.mark.parametrize(
    ("text", "font"), [("Żółw, 5°", BARLOW), ("Ждём", NOTO), ("漢 Ж", NOTO), ("漢", BARLOW)]
)
def test_a_text_is_written_in_the_font_that_has_its_letters(text, font):
    assert font_for(text) == font


def movie(*runs):
    """Frames of a movie from runs of (shot, camera, first, last, what the pictures are called after); None is black."""
    out = []
    for one in runs:
        if one is None:
            out.append(None)
            continue
        shot, camera, first, last, mark = one
        out += [Shown(shot, camera, f, f"{mark}{f}") for f in range(first, last + 1)]
    return out


def test_in_step_by_the_cut_or_by_the_stage_where_timing_changed():
    old = movie(("010", "A", 1, 4, "a"), ("020", "B", 3, 6, "b"))
    # 010 lost its first two frames, and a black one came between.
    new = movie(("010", "A", 3, 4, "a"), None, ("020", "B", 3, 6, "b"))
    assert beside(new, old, "cut") == [0, 1, 2, 3, 4, 5, 6]
    assert beside(new, old[:3], "cut") == [0, 1, 2, None, None, None, None]
    assert beside(new, old, "stage") == [2, 3, None, 4, 5, 6, 7]
    # Named otherwise, but the same camera and moment.
    again = movie(("011", "A", 3, 3, "a"), ("012", "C", 3, 3, "c"))
    assert beside(again, old, "stage") == [2, None]


def test_what_became_different_in_plain_words():
    old = movie(
        ("010", "A", 1, 4, "a"), ("020", "B", 3, 6, "b"), ("030", "C", 7, 8, "c"), ("040", "D", 1, 2, "d")
    )
    new = movie(
        ("010", "A", 1, 4, "a"), ("020", "B", 3, 5, "x"), ("030", "E", 7, 8, "e"), ("050", "A", 1, 1, "a")
    )
    new[1] = Shown("010", "A", 2, "other")
    assert different(new, old) == [
        "Shot 010: 1 of 4 frames look different.",
        "Shot 020 is 3 frames; it was 4.",
        "Shot 020: all frames look different.",
        "Shot 030 is on camera E; it was on C.",
        "Shot 050 is new.",
        "Shot 040 is gone.",
    ]
    assert different(old, old) == ["No frame changed."]


def test_what_was_done_between_is_what_still_stands_of_it():
    history = [
        Did(5, "do", "Moved B"),
        Did(6, "do", "Renamed C"),
        Did(7, "undo", "Undid: Renamed C", of=6),
        Did(8, "do", "Trimmed 020"),
        Did(9, "undo", "Undid: Trimmed 020", of=8),
        Did(10, "redo", "Redid: Trimmed 020", of=8),
        Did(11, "undo", "Undid: Set the sun", of=3),
    ]
    assert done_between(history) == ["Moved B", "Trimmed 020", "Undid: Set the sun"]
