"""Random commands for property tests, most of them possible, some not."""

from any_command import KINDS, commands_of
from hypothesis import strategies as st

FIRST, LAST = 1001, 1320
frames = st.integers(FIRST - 5, LAST + 5)
metres = st.floats(-20, 20).map(lambda v: round(v, 3))
degrees = st.floats(-400, 400).map(lambda v: round(v, 2))
cameras = st.sampled_from(["cam-a", "cam-b", "cam-c", "cam-d", "cam-new", "cam-none"])
shots = st.sampled_from(["shot-010", "shot-020", "shot-030", "shot-040", "shot-new"])
figures = st.sampled_from(["fig-odile", "fig-bram", "fig-new"])
pieces = st.sampled_from([f"set-{n:02d}" for n in range(1, 12)])
pose = st.fixed_dictionaries(
    {"x": metres, "y": metres, "z": metres, "pan": degrees, "tilt": degrees, "roll": degrees}
)
kinds = st.sampled_from(["held", "straight", "eased"])
lenses = st.sampled_from(["lens-18", "lens-50", "lens-zoom", "lens-new", "lens-none"])
channels = st.sampled_from(["x", "tilt", "focal", "aperture", "exposure", "nothing"])
groups = st.sampled_from(["pose", "all", "lens", "pan"])
movers = st.sampled_from(["mov-heron", "mov-boat", "mov-none"])
keyed = st.one_of(cameras, movers)
things = st.one_of(cameras, movers, figures, pieces, st.just("lens-50"))
focus_on = st.one_of(
    st.fixed_dictionaries({"kind": st.just("distance"), "metres": st.one_of(st.none(), st.floats(-1, 40))}),
    st.fixed_dictionaries({"kind": st.just("point"), "x": metres, "y": metres, "z": metres}),
    st.fixed_dictionaries({"kind": st.just("figure"), "figure": figures, "joint": st.sampled_from(["eyes", "wrist_l", "fin"])}),
    st.fixed_dictionaries({"kind": st.just("piece"), "piece": pieces, "up": st.floats(-0.5, 1.5)}),
    st.fixed_dictionaries({"kind": st.just("mover"), "mover": st.sampled_from(["mov-heron", "mov-boat", "mov-none"])}),
    st.fixed_dictionaries({"kind": st.just("camera"), "camera": cameras}),
)  # fmt: skip


def command(kind, **fields):
    return st.fixed_dictionaries({"kind": st.just(kind), **fields})


there = {"frame": frames, "keep": st.sampled_from(["key", "path", "rest"])}
#: Keys that the demo has, and some that it has not.
key_at = st.one_of(
    st.sampled_from(
        [
            {"thing": "cam-b", "frame": 1236},
            {"thing": "cam-d", "frame": 1286},
            {"thing": "mov-heron", "frame": 1294},
        ]
    ),
    st.fixed_dictionaries({"thing": keyed, "frame": frames, "channel": groups}),
)
keys_at = st.lists(key_at, min_size=1, max_size=3)
new_key = st.fixed_dictionaries(
    {"thing": keyed, "channel": channels, "frame": frames, "value": st.floats(-3, 120)}
)

commands = st.one_of(
    command("camera.mount", camera=cameras, lens=lenses, keep=st.sampled_from(["place", "size"]), frame=frames),
    command("camera.mount", camera=cameras, step=st.sampled_from([-1, 1])),
    command("camera.glass", camera=cameras, aperture=st.floats(0.3, 40), hold=st.sampled_from(["nothing", "shutter", "iso", "exposure"]), force=st.booleans()),
    command("camera.glass", camera=cameras, near_m=st.floats(0, 3), far_m=st.floats(0, 200), iso=st.floats(1, 6400)),
    command("keys.set", keys=st.lists(new_key, min_size=1, max_size=3), force=st.booleans()),
    command("keys.here", thing=keyed, frame=frames, channel=groups, shape=kinds),
    command("keys.delete", keys=keys_at),
    command("keys.move", keys=keys_at, by=st.integers(-60, 60)),
    command("keys.shape", keys=keys_at, before=kinds, after=kinds),
    command("thing.put", thing=st.one_of(cameras, movers), x=metres, y=metres, z=metres, pan=degrees, **there),
    command("thing.put", thing=st.one_of(keyed, figures), pan=degrees, **there),
    command("thing.put", thing=figures, x=metres, z=metres, **there),
    command("things.move", ids=st.lists(things, min_size=1, max_size=4), dx=metres, dz=metres),
    command("things.move", ids=st.lists(st.one_of(pieces, figures), min_size=1, max_size=4), dx=metres, turn=degrees),
    command("things.duplicate", ids=st.lists(things, min_size=1, max_size=3, unique=True)),
    command("things.duplicate", ids=st.lists(cameras, min_size=1, max_size=1), copies=st.just(["cam-new"])),
    command("things.delete", ids=st.lists(things, min_size=1, max_size=2, unique=True)),
    command("focus.set", camera=cameras, on=focus_on, frame=frames),
    command("focus.rack", camera=cameras, on=focus_on, frame=frames, over=st.integers(0, 60)),
    command("focus.mark", camera=st.just("cam-c"), frame=st.just(1266), to=frames, over=st.integers(0, 60)),
    command("focus.unmark", camera=st.just("cam-c"), frame=st.just(1266)),
    command("lens.add", id=st.just("lens-new"), shortest_mm=st.floats(0, 90), blades=st.integers(-1, 12)),
    command("lens.set", lens=lenses, widest=st.floats(0.4, 5), nearest_m=st.floats(0.001, 2)),
    command("camera.add", id=st.just("cam-new"), name=st.text("abc ", min_size=1, max_size=9), pose=pose),
    command("camera.set", camera=cameras, focal=st.floats(0, 200), locked=st.booleans()),
    command("camera.set", camera=cameras, hidden=st.booleans()),
    command("shot.add", camera=cameras, id=st.just("shot-new"), before=shots),
    command("cut.edit", do=st.fixed_dictionaries({"edit": st.just("split"), "shot": shots, "frame": frames, "camera": cameras})),
    command("cut.edit", do=st.fixed_dictionaries({"edit": st.sampled_from(["trim_in", "trim_out", "roll", "slip"]), "shots": st.tuples(shots), "by": st.integers(-40, 40), "leaving": st.booleans()})),
    command("cut.edit", do=st.fixed_dictionaries({"edit": st.sampled_from(["fade_in", "fade_out"]), "shots": st.tuples(shots), "frames": st.integers(0, 60)})),
    command("cut.edit", do=st.fixed_dictionaries({"edit": st.just("dissolve"), "shots": st.tuples(shots), "frames": st.tuples(st.integers(0, 20), st.integers(0, 20))})),
    command("shot.move", shot=shots, before=shots),
    command("shot.set", shot=shots, camera=cameras, gap_before=st.integers(-1, 30)),
    command("shot.delete", shot=shots, leave_gap=st.booleans()),
    command("figure.add", id=st.just("fig-new"), name=st.sampled_from(["Odile", "Third"]), x=metres, z=metres),
    command("figure.walk", figure=figures, first=frames, points=st.lists(st.tuples(metres, metres), min_size=1, max_size=4)),
    command("figure.act", figure=figures, act=st.fixed_dictionaries({"kind": st.just("point"), "frames": st.just({"first": 1240, "last": 1260}), "at": focus_on})),
    command("figure.act.delete", figure=figures, ids=st.sampled_from([["act-1"], ["act-2"], ["act-1", "act-3"]])),
    command("pieces.group", ids=st.lists(pieces, min_size=1, max_size=3, unique=True), group=st.sampled_from(["", "Props"])),
    command("piece.set", piece=pieces, width=st.sampled_from([-1, 0, 1e-200, 0.001, 9])),
    command("scene.set", frames=st.fixed_dictionaries({"first": st.just(FIRST), "last": st.integers(1290, 1400)})),
)  # fmt: skip
#: Of the kinds above, which are likely to be possible, or of any kind there is.
commands = st.booleans().flatmap(
    lambda likely, usual=commands: usual if likely else st.sampled_from(KINDS).flatmap(commands_of)
)
runs = st.lists(commands, min_size=1, max_size=14)
