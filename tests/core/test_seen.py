"""A subject as the audience sees it, by OpenCV's projection."""

import json

import numpy as np
import pytest
from test_rigs import DEMO, HIGH, WIDE, pixels, place, ridden, samples

from heron.bake import Bake, ResultCache
from heron.cli import main
from heron.framing.seen import seen_strip
from heron.scene import find_named, write_scene
from heron.stage.reference import OnFigure


def told(tmp_path, capsys, scene, *words):
    file = tmp_path / "scene.json"
    file.write_text(write_scene(scene))
    assert main(["seen", str(file), "--size", f"{WIDE}x{HIGH}", *words]) == 0
    return json.loads(capsys.readouterr().out)


def test_height_place_and_speed_are_opencvs(tmp_path, capsys):
    rows = told(tmp_path, capsys, DEMO, "--camera", "A", "--subject", "Odile/head", "--frames", "1090-1110")
    found, head, root = samples(DEMO, "A"), place(DEMO, "head"), place(DEMO, "root")
    at = np.array([pixels(found.values[f - 1001], found.columns, head[f - 1001]) for f in range(1089, 1111)])
    for k, row in enumerate(rows):
        x, y = at[k + 1]
        assert row["frame"] == 1090 + k
        assert ((row["x"] + 1) * WIDE / 2, (1 - row["y"]) * HIGH / 2) == pytest.approx((x, y), abs=1e-6)
        assert row["speed_px"] == pytest.approx(np.hypot(*(at[k + 1] - at[k])), abs=1e-6)
        # An upright of her stature where she stands.
        i = row["frame"] - 1001
        ends = [pixels(found.values[i], found.columns, root[i] + [0, up, 0]) for up in (0, 1.68)]
        assert row["height_px"] == pytest.approx(np.hypot(*(ends[1] - ends[0])), rel=1e-6)


def test_what_has_no_height_and_what_is_behind_are_told_as_nothing(tmp_path, capsys):
    rows = told(tmp_path, capsys, DEMO, "--camera", "D", "--subject", "Rowing boat", "--frames", "1290-1292")
    assert all(row["height_px"] is None and row["x"] is None and row["speed_px"] is None for row in rows)
    rows = told(tmp_path, capsys, DEMO, "--camera", "A", "--subject", "Rowing boat", "--frames", "1090-1092")
    assert all(row["height_px"] is None and abs(row["x"]) < 3 for row in rows)


def test_an_exact_placement_stands_still_and_a_jump_of_the_camera_is_no_speed():
    held = {"kind": "aim", "at": ["Odile/head"], "x": [[1001, 0.2, "held"], [1100, -0.2, "held"]], "y": 0.1}
    scene = ridden(held, camera="A")
    strip = seen_strip(
        Bake(scene, ResultCache()),
        find_named(scene, "cameras", "A"),
        OnFigure(figure="fig-odile", joint="head"),
    )
    assert strip.speed.max() < 1e-9
    assert strip.x[98] == pytest.approx(0.2) and strip.x[99] == pytest.approx(-0.2)
