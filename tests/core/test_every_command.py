"""Every kind of command, with anything its schema allows: it is done or it is refused, and the scene stays whole."""

import json

import numpy as np
import pytest
from any_command import KINDS, SCENE, commands_of
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from heron.bake import Bake, ResultCache
from heron.commands import Command, parse_commands, run_one
from heron.errors import HeronError
from heron.scene import read_scene, write_scene


def test_commands_are_drawn_from_every_kind_there_is():
    def below(one):
        return {one}.union(*(below(kind) for kind in one.__subclasses__()))

    written = {one.model_fields["kind"].default for one in below(Command) if "kind" in one.model_fields}
    assert set(KINDS) == written


@pytest.mark.parametrize("kind", KINDS)
def test_it_is_done_or_refused_with_a_remedy(kind):
    @settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck))
    @given(commands_of(kind))
    def tried(command):
        try:
            after, said = run_one(SCENE, parse_commands(json.dumps(command))[0])
        except HeronError as refused:
            assert refused.reason and refused.remedy.endswith(".")
            return
        assert said and read_scene(write_scene(after)) == after

    tried()


@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.lists(st.sampled_from(KINDS).flatmap(commands_of), min_size=3, max_size=10))
def test_after_any_commands_everything_has_a_finite_place(commands):
    scene = SCENE
    for command in commands:
        try:
            scene, _ = run_one(scene, parse_commands(json.dumps(command))[0])
        except HeronError:
            continue
    bake = Bake(scene, ResultCache())
    for item in (*scene.cameras, *scene.movers, *scene.figures):
        assert np.isfinite(bake.samples(item).values).all()
