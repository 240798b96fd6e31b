"""The demo's scene in a set and with a character that were brought in: out as USD and as an edit list, cut otherwise, back, conformed."""

import re

import numpy as np
import opentimelineio as otio
import pytest
from kept_files import STORE, files  # noqa: F401
from pxr import Usd, UsdSkel

from heron.bake import Bake
from heron.commands import run
from heron.commands.conforming import ConformCut
from heron.cut import Clocks
from heron.cut.conforming import compared
from heron.demo.boathouse import as_it_came_back, boathouse_scene, brought
from heron.demo.made.boathouse import FLOOR
from heron.formats.edit_in import read_edit
from heron.formats.edl import write_edl
from heron.formats.otio import write_otio
from heron.formats.usd import write_usd
from heron.scene import find_named
from heron.stage.characters import physique_of


@pytest.fixture
def scene():
    made = brought()
    for one in (made.set_kept, made.walk_kept, made.oarsman_kept):
        STORE[one.key] = one.content
    return boathouse_scene(made)


def test_it_plays_in_the_set_goes_out_comes_back_and_is_conformed(scene, tmp_path):
    bram = find_named(scene, "figures", "Bram")
    done = Bake(scene).performance(bram)
    # He walks in on the boathouse's floor, on ankles of his own height.
    inside = done.root[:, 2] < 2
    assert np.median(done.root[inside, 1]) == pytest.approx(FLOOR, abs=0.005)
    assert physique_of(bram).shares.hip != physique_of(find_named(scene, "figures", "Odile")).shares.hip
    for foot in done.feet.values():
        down = foot.ankle[foot.planted & inside, 1] - FLOOR - physique_of(bram).ankle
        # Flat, or rolling up on its ball; never below the boards.
        assert down.min() > -0.03 and np.median(down) < 0.02
    # Out as USD: the set, two skeletons, three cameras.
    (tmp_path / "stage.usdc").write_bytes(write_usd(Bake(scene)))
    stage = Usd.Stage.Open(str(tmp_path / "stage.usdc"))
    kinds = [prim.GetTypeName() for prim in stage.Traverse()]
    assert kinds.count("Camera") == 3 and sum(prim.IsA(UsdSkel.Skeleton) for prim in stage.Traverse()) == 2
    # As a timeline: the edit trims, and puts black before the last shot.
    command = as_it_came_back(scene, write_otio(scene, revision=1))
    after, _ = run(scene, [command])
    assert [(s.name, s.stage.first, s.stage.last, s.gap_before) for s in after.shots] == [
        ("080", 1009, 1083, 0), ("090", 1090, 1121, 0), ("100", 1122, 1171, 8)
    ]  # fmt: skip
    assert len(after.cuts) == 1
    # As an edit list, read by OpenTimelineIO's own adapter, and cut otherwise in its text: the first shot ends 10 frames sooner.
    text = write_edl(scene)
    assert (
        len(list(otio.adapters.read_from_string(text, "cmx_3600", rate=24).video_tracks()[0].find_clips()))
        == 3
    )
    lines = text.splitlines()
    at = next(i for i, line in enumerate(lines) if re.match(r"001 ", line))
    *head, s_in, s_out, r_in, r_out = lines[at].split()
    shorter = [
        otio.opentime.to_timecode(otio.opentime.from_timecode(t, 24) - otio.opentime.RationalTime(10, 24), 24)
        for t in (s_out, r_out)
    ]
    lines[at] = "  ".join([*head, s_in, shorter[0], r_in, shorter[1]])
    clips = read_edit("\n".join(lines).encode(), "boathouse.edl", scene)
    told = {line.shot: line.what for line in compared(scene, clips)}
    assert told["shot-080"] == ("tail -10",)
    back = run(scene, [ConformCut(clips=clips, take=("trimmed",))])[0]
    assert back.shots[0].stage.last == 1073 and Clocks(back).length == Clocks(scene).length - 10
