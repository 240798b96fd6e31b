"""A cut goes out, is changed with OpenTimelineIO alone, comes back, is compared and taken over, and taken back."""

import opentimelineio as otio


def sent_back(desk, change, name="back.otio"):
    out = desk.get("/export/otio").content.decode()
    timeline = otio.adapters.read_from_string(out, "otio_json")
    change(timeline.tracks[0])
    return desk.client.post(
        f"/api/scenes/{desk.id}/conform?name={name}",
        timeline.to_json_string(),
        content_type="application/octet-stream",
    )


def compared(desk, clips):
    return desk.client.post(
        f"/api/scenes/{desk.id}/conform/compared", {"clips": clips}, content_type="application/json"
    )


def test_a_cut_comes_back_and_is_taken_over(desk):
    def change(track):
        clip = next(iter(track.find_clips()))
        old = clip.source_range
        clip.source_range = otio.opentime.TimeRange(
            old.start_time, old.duration - otio.opentime.RationalTime(10, 24)
        )

    answer = sent_back(desk, change)
    assert answer.status_code == 200
    clips = answer.json()
    lines = compared(desk, clips).json()
    assert [line["what"] for line in lines] == [["tail -10"], ["same"], ["same"], ["same"]]
    before = desk.scene()["shots"]
    assert desk.do(kind="cut.conform", clips=clips).status_code == 200
    after = desk.scene()["shots"]
    assert after[0]["stage"]["last"] == before[0]["stage"]["last"] - 10 and after[1:] == before[1:]
    assert [line["what"] for line in compared(desk, clips).json()] == [["same"]] * 4
    assert desk.post("undo").status_code == 200 and desk.scene()["shots"] == before


def test_each_clip_says_which_shot_it_is_and_of_which_revision(desk):
    desk.do(kind="scene.set", name="Slack Tide, again")
    timeline = otio.adapters.read_from_string(desk.get("/export/otio").content.decode(), "otio_json")
    told = [dict(clip.metadata["mellow_heron"]) for clip in timeline.tracks[0].find_clips()]
    assert [one["shot_id"] for one in told] == [shot["id"] for shot in desk.scene()["shots"]]
    assert {one["revision"] for one in told} == {1} and all(
        one["stage_first"] <= one["stage_last"] for one in told
    )


def test_what_is_no_list_or_of_another_scene_is_refused(desk):
    bad = desk.client.post(
        f"/api/scenes/{desk.id}/conform?name=a.edl", b"hello", content_type="application/octet-stream"
    )
    assert bad.status_code == 400 and "isn't a list of shots" in bad.json()["detail"]
    other = compared(desk, [{"name": "Nothing", "first": 90_000, "count": 10}])
    assert other.status_code == 422 and "another scene" in other.json()["detail"]


def test_the_edl_and_the_stage_go_out(desk):
    edl = desk.get("/export/edl")
    assert (
        edl.status_code == 200
        and edl.content.startswith(b"TITLE: Slack Tide")
        and "slack-tide.edl" in edl["Content-Disposition"]
    )
    usdz = desk.get("/export/usdz")
    assert usdz.status_code == 200 and usdz.content[:2] == b"PK"
