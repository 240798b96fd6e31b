"""Random commands for property tests, most of them possible, some not."""

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
glass = st.sampled_from(["focal", "aperture", "exposure"])
focus_on = st.one_of(
    st.fixed_dictionaries({"kind": st.just("distance"), "metres": st.one_of(st.none(), st.floats(-1, 40))}),
    st.fixed_dictionaries({"kind": st.just("point"), "x": metres, "y": metres, "z": metres}),
    st.fixed_dictionaries({"kind": st.just("figure"), "figure": figures, "joint": st.sampled_from(["eyes", "wrist_l", "fin"])}),
    st.fixed_dictionaries({"kind": st.just("piece"), "piece": pieces, "up": st.floats(-0.5, 1.5)}),
    st.fixed_dictionaries({"kind": st.just("mover"), "mover": st.sampled_from(["mov-heron", "mov-boat", "mov-none"])}),
)  # fmt: skip


def command(kind, **fields):
    return st.fixed_dictionaries({"kind": st.just(kind), **fields})


commands = st.one_of(
    command("camera.mount", camera=cameras, lens=lenses, keep=st.sampled_from(["place", "size"]), frame=frames),
    command("camera.mount", camera=cameras, step=st.sampled_from([-1, 1])),
    command("camera.glass", camera=cameras, aperture=st.floats(0.3, 40), hold=st.sampled_from(["nothing", "shutter", "iso", "exposure"]), force=st.booleans()),
    command("camera.glass", camera=cameras, near_m=st.floats(0, 3), far_m=st.floats(0, 200), iso=st.floats(1, 6400)),
    command("glass.key", camera=cameras, name=glass, frame=frames, value=st.floats(-3, 120), shape=kinds, force=st.booleans()),
    command("glass.unkey", camera=cameras, name=glass, frame=frames),
    command("focus.set", camera=cameras, on=focus_on, frame=frames),
    command("focus.rack", camera=cameras, on=focus_on, frame=frames, over=st.integers(0, 60)),
    command("focus.mark", camera=st.just("cam-c"), frame=st.just(1266), to=frames, over=st.integers(0, 60)),
    command("focus.unmark", camera=st.just("cam-c"), frame=st.just(1266)),
    command("lens.add", id=st.just("lens-new"), shortest_mm=st.floats(0, 90), blades=st.integers(-1, 12)),
    command("lens.set", lens=lenses, widest=st.floats(0.4, 5), nearest_m=st.floats(0.001, 2)),
    command("lens.delete", lens=lenses),
    command("mover.delete", mover=st.sampled_from(["mov-heron", "mov-none"])),
    command("camera.add", id=st.just("cam-new"), name=st.text("abc ", min_size=1, max_size=9), pose=pose),
    command("camera.duplicate", camera=cameras, id=st.just("cam-new")),
    command("camera.delete", camera=cameras),
    command("camera.set", camera=cameras, focal=st.floats(0, 200), locked=st.booleans()),
    command("camera.set", camera=cameras, hidden=st.booleans()),
    command("camera.place", camera=cameras, pose=pose),
    command("camera.shift", camera=cameras, frame=frames, pose=pose),
    command("keys.set", thing=cameras, frame=frames, pose=pose, shape=kinds),
    command("keys.delete", thing=cameras, frame=frames),
    command("keys.move", thing=st.just("cam-b"), frame=st.just(1236), to=frames),
    command("keys.shape", thing=st.just("cam-d"), frame=st.just(1286), after=kinds),
    command("shot.add", camera=cameras, id=st.just("shot-new"), at=st.integers(0, 6)),
    command("shot.cut", cut_frame=st.integers(0, 400), camera=cameras),
    command("shot.trim", shot=shots, first=frames, ripple=st.booleans()),
    command("shot.trim", shot=shots, last=frames, ripple=st.booleans()),
    command("shot.move", shot=shots, to=st.integers(0, 6)),
    command("shot.set", shot=shots, camera=cameras, gap_before=st.integers(-1, 30)),
    command("shot.delete", shot=shots, leave_gap=st.booleans()),
    command("figure.add", id=st.just("fig-new"), name=st.sampled_from(["Odile", "Third"]), x=metres, z=metres),
    command("figure.move", figure=figures, x=metres, heading=degrees),
    command("figure.walk", figure=figures, first=frames, points=st.lists(st.tuples(metres, metres), min_size=1, max_size=4)),
    command("figure.act.delete", figure=figures, index=st.integers(0, 3)),
    command("figure.duplicate", figure=figures),
    command("figure.delete", figure=figures),
    command("pieces.move", ids=st.lists(pieces, min_size=1, max_size=4), dx=metres, turn=degrees),
    command("pieces.duplicate", ids=st.lists(pieces, min_size=1, max_size=3, unique=True)),
    command("pieces.delete", ids=st.lists(pieces, min_size=1, max_size=3, unique=True)),
    command("pieces.group", ids=st.lists(pieces, min_size=1, max_size=3, unique=True), group=st.sampled_from(["", "Props"])),
    command("piece.set", piece=pieces, width=st.floats(-1, 9)),
    command("mover.place", mover=st.sampled_from(["mov-boat", "mov-none"]), pose=pose),
    command("mover.shift", mover=st.sampled_from(["mov-boat", "mov-heron"]), dx=metres),
    command("scene.set", frames=st.fixed_dictionaries({"first": st.just(FIRST), "last": st.integers(1290, 1400)})),
)  # fmt: skip
runs = st.lists(commands, min_size=1, max_size=14)
