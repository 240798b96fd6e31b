"""Ways on the floor: round what stands there by the shortest, and drawn by hand with few points."""

import heapq
import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from heron.bake import Bake
from heron.commands import parse_commands, run
from heron.errors import HeronError
from heron.scene import empty_scene, find
from heron.stage.clear_way import CLEAR_M, Blocked, way_round
from heron.stage.path import FREEHAND_M, FloorPath, few_points
from heron.stage.piece import Piece, into


def box(x, z, width, depth, heading=0.0, name="Box"):
    return Piece(id=f"p{x}{z}{heading}"[:30].replace(".", "-"), name=name, kind="box", x=x, z=z, width=width, depth=depth, height=1.0, heading=heading)  # fmt: skip


def near(piece, places, room=CLEAR_M):
    """Whether places are nearer to a piece than may be gone, along either of its sides."""
    across, along = into(piece, places[:, 0], places[:, 1])
    return (np.abs(across) < piece.width / 2 + room) & (np.abs(along) < piece.depth / 2 + room)


def on_a_grid(start, end, pieces, step=0.125, half=6.0):
    """The length of the shortest way over a fine grid with sixteen directions: Dijkstra (1959), metres; none, infinity."""
    n = int(2 * half / step) + 1
    xs = np.linspace(-half, half, n)
    blocked = np.zeros((n, n), dtype=bool)
    gx, gz = np.meshgrid(xs, xs, indexing="ij")
    for piece in pieces:
        # Between two that just touch there is no way.
        blocked |= near(piece, np.stack([gx.ravel(), gz.ravel()], axis=-1), CLEAR_M + 1e-3).reshape(n, n)
    moves = [(a, b) for a in range(-2, 3) for b in range(-2, 3) if (a or b) and np.gcd(a, b) == 1]
    a, b = (tuple(round((v + half) / step) for v in p) for p in (start, end))
    best, todo = {a: 0.0}, [(0.0, a)]
    while todo:
        far, here = heapq.heappop(todo)
        if here == b:
            return far
        if far > best[here]:
            continue
        for dx, dz in moves:
            i, j = here[0] + dx, here[1] + dz
            if (
                not (0 <= i < n and 0 <= j < n)
                or blocked[i, j]
                or blocked[(here[0] + i) // 2, (here[1] + j) // 2]
            ):
                continue
            new = far + step * float(np.hypot(dx, dz))
            if new < best.get((i, j), np.inf):
                best[i, j] = new
                heapq.heappush(todo, (new, (i, j)))
    return np.inf


boxes = st.lists(
    st.builds(
        box, st.integers(-3, 3).map(float), st.integers(-2, 2).map(float), st.sampled_from([0.3, 1.0, 2.0]), st.sampled_from([0.3, 1.0]),
        st.sampled_from([0.0, 30.0, 45.0, 90.0]),
    ),
    max_size=5, unique_by=lambda p: (p.x, p.z),
)  # fmt: skip


@settings(max_examples=8, deadline=None)
@given(boxes)
def test_a_way_round_keeps_clear_and_is_as_short_as_one_over_a_fine_grid(pieces):
    start, end = np.array([-5.0, 0.0]), np.array([5.0, 0.0])
    found = way_round(start, end, pieces)
    grid = on_a_grid(start, end, pieces)
    if isinstance(found, Blocked):
        assert not np.isfinite(grid) or any(near(p, np.array([start, end])).any() for p in pieces)
        return
    way = np.array([start, *found[0], end])
    dense = np.concatenate([np.linspace(a, b, 200) for a, b in zip(way[:-1], way[1:], strict=True)])
    assert not any(near(piece, dense, CLEAR_M - 1e-6).any() for piece in pieces)
    length = np.hypot(*np.diff(way, axis=0).T).sum()
    # No way over the grid is shorter, but for where its cells end.
    assert length <= grid + 0.15
    assert bool(found[0]) == bool(found[1])


def scene(*more):
    commands = [
        {"kind": "scene.set", "frames": {"first": 1001, "last": 1400}},
        {"kind": "figure.add", "id": "f", "name": "Odile", "x": 0, "z": 0},
        {"kind": "piece.add", "id": "w", "shape": "wall", "name": "Screen", "x": 0, "z": -3, "width": 3, "depth": 0.2, "height": 2},
        *more,
    ]  # fmt: skip
    return run(empty_scene("Ways"), parse_commands(json.dumps(commands)))


def test_a_walk_through_a_wall_is_said_and_goes_round_it_when_asked():
    walk = {
        "kind": "figure.act",
        "figure": "f",
        "act": {"kind": "walk", "id": "w1", "frames": {"first": 1010, "last": 1200}, "points": [[0, -6]]},
    }
    before, said = scene(walk)
    assert "it leads through Screen" in said[-1]
    after, (told,) = run(before, parse_commands('[{"kind": "figure.walk.round", "figure": "f", "id": "w1"}]'))
    # Past 1.5 m of wall with 0.38 m of room: 2·√(1.88² + 2.52²) + 0.96 = 7.25 m.
    assert told.startswith("Odile goes round Screen: 7.2 m, not 6.0") and "leads through" not in told
    rows = Bake(after).samples(find(after, "figures", "f")).values
    wall = find(after, "pieces", "w")
    across, along = into(wall, rows[:, 0], rows[:, 2])
    assert not ((np.abs(across) < 1.5 + 0.15) & (np.abs(along) < 0.1 + 0.15)).any()
    np.testing.assert_allclose(rows[-1, [0, 2]], [0, -6], atol=0.01)
    with pytest.raises(HeronError, match="Nothing is in Odile's way"):
        run(after, parse_commands('[{"kind": "figure.walk.round", "figure": "f", "id": "w1"}]'))


def test_a_point_inside_something_has_no_clear_way():
    walk = {
        "kind": "figure.act",
        "figure": "f",
        "act": {"kind": "walk", "id": "w1", "frames": {"first": 1010, "last": 1200}, "points": [[0.5, -3]]},
    }
    with pytest.raises(HeronError, match="Screen leaves no clear way there"):
        run(scene(walk)[0], parse_commands('[{"kind": "figure.walk.round", "figure": "f", "id": "w1"}]'))


@pytest.mark.parametrize("bends", [0.0, 0.5, 1.2])
def test_a_line_drawn_by_hand_is_few_points_and_the_same_way(bends):
    rng = np.random.default_rng(3)
    s = np.linspace(0, 9, 300)
    drawn = np.stack([s, bends * np.sin(1.1 * s)], axis=-1) + rng.normal(0, 0.008, (300, 2))
    kept = few_points(drawn, FREEHAND_M)
    assert len(kept) <= (2 if not bends else 14)
    path = FloorPath(kept)
    way = path.place(np.linspace(0, path.length, 2000))
    away = np.sqrt(((drawn[:, None] - way[None]) ** 2).sum(-1)).min(1)
    assert away.max() <= FREEHAND_M
    made, _ = run(
        scene()[0],
        parse_commands(
            json.dumps(
                [
                    {
                        "kind": "figure.walk",
                        "figure": "f",
                        "first": 1001,
                        "points": drawn.tolist(),
                        "freehand": True,
                    }
                ]
            )
        ),
    )
    assert len(find(made, "figures", "f").acts[0].points) == len(kept)
