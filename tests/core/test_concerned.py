"""Which cameras have to do with frames or a figure: read off a small scene by hand."""

from test_cut_joins import do

from heron.cut.concerned import cameras_of_figure, cameras_of_range
from heron.demo import slack_tide
from heron.timebase import Frames


def test_cameras_of_a_range_are_on_air_in_it_kept_for_it_or_keyed_in_it():
    # In the demo 020 shows camera B on 1165 to 1232, 030 shows C on 1233 to 1283; B has keys at 1170 and later.
    scene = slack_tide()
    there = Frames(first=1233, last=1236)
    keyed = {c.id for c in scene.cameras if any(1233 <= key <= 1236 for key in c.key_frames())}
    assert set(cameras_of_range(scene, there)) == {"cam-c"} | keyed
    assert "cam-b" in cameras_of_range(scene, Frames(first=1232, last=1236))
    kept, _ = do(scene, edit="add_version", shots=["030"], name="other", camera="A")
    assert set(cameras_of_range(kept, there)) == {"cam-a", "cam-c"} | keyed


def test_cameras_of_a_figure_name_it():
    scene = slack_tide()
    named = cameras_of_figure(scene, "fig-odile")
    text = {camera.id: camera.model_dump_json() for camera in scene.cameras}
    assert named and set(named) == {id_ for id_, one in text.items() if '"fig-odile"' in one}
    assert set(text) - set(named)
