"""The lens, or the reach of an arm, that keeps a subject's size: settled with the direction until both agree."""

import numpy as np

from heron.curves import evaluate
from heron.rigs.place import pivot_line
from heron.rigs.pose import Floats, Pose
from heron.rigs.rigged import Step
from heron.rigs.running import Run
from heron.rigs.size_hold import ends_of, tall_in
from heron.scene.layers import Arm, SizeHold

#: Rounds in which lens (or reach) and direction settle, and when they have, as a share of the size: a hundredth of a
#: pixel of a face in a picture 1080 high.
_ROUNDS, _SETTLED = 12, 1e-5


def lensed(run: Run, layer: SizeHold, frames: slice, levelled: Pose, below: Floats) -> Floats:
    asked = evaluate(layer.share, run.t[frames])
    low, high = run.context.lens_mm
    focal = below.copy()
    # In the middle of the frame the size goes with the lens; off it, and with an aim that is late, rounds settle it.
    # A secant of the logarithms: how much the size answers to the lens is learned from the last two rounds.
    found = asked
    answers = np.ones_like(asked)
    before: tuple[Floats, Floats] | None = None
    for _ in range(_ROUNDS):
        found = _share(run, layer, frames, run.aimed(levelled, focal), focal)
        now = np.log(focal[frames]), np.log(np.maximum(found, 1e-9))
        if before:
            went = now[0] - before[0]
            learned = (now[1] - before[1]) / np.where(np.abs(went) > 1e-9, went, 1.0)
            answers = np.where(np.abs(went) > 1e-9, np.clip(learned, 0.5, 2.0), answers)
        before = now
        wanted = np.clip(np.exp(now[0] + (np.log(asked) - now[1]) / answers), low, high)
        done = np.max(np.abs(wanted / focal[frames] - 1), initial=0.0) < _SETTLED
        focal[frames] = wanted
        if done:
            break
    for end, reached, verb in (
        (low, focal[frames] <= low, "shortest"),
        (high, focal[frames] >= high, "longest"),
    ):
        off = reached & (np.abs(found / asked - 1) > 1e-3)
        if off.any():
            i = int(np.argmax(off))
            run.said["size"].append((
                int(run.t[frames][i]),
                f"the lens is at its {verb}, {end:g} mm: from here the size is {found[i]:.3g} of the frame, not {asked[i]:.3g}",
            ))  # fmt: skip
    weight = run.weight(layer, frames)
    out = below.copy()
    mixed = np.exp((1 - weight) * np.log(below[frames]) + weight * np.log(focal[frames]))
    out[frames] = np.where(weight == 1.0, focal[frames], mixed)
    run.steps[layer.id] = Step(layer, frames, [below[frames]], [focal[frames]], weight)
    return out


def reached(
    run: Run, layer: SizeHold, frames: slice, reaches: dict[str, Floats], focal: Floats
) -> dict[str, Floats]:
    arms = [(arm, part) for arm, part in run.by_kind.get(0, []) if isinstance(arm, Arm)]
    if not arms:
        run.said["size"].append((int(run.t[frames][0]), "there is no arm whose reach could keep the size"))
        return reaches
    arm, part = arms[-1]
    asked = evaluate(layer.share, run.t[frames])
    weight = run.weight(layer, frames)
    own = evaluate(arm.reach_m, run.t[part])
    top, bottom = ends_of(layer, run.context)
    pair = (top[frames] + bottom[frames]) / 2
    # Where both act.
    both = slice(max(frames.start, part.start), min(frames.stop, part.stop))
    if both.start >= both.stop:
        return reaches
    here = slice(both.start - part.start, both.stop - part.start)
    mine = slice(both.start - frames.start, both.stop - frames.start)
    reach = own.copy()
    short = np.zeros(both.stop - both.start, dtype=bool)
    for _ in range(_ROUNDS * 2):
        levelled = run.placed({**reaches, arm.id: reach})
        pose = run.aimed(levelled, focal)
        found = _share(run, layer, frames, pose, focal)[mine]
        placed = run.steps[arm.id].placed
        assert placed is not None
        pivot, way, _ = pivot_line(placed)
        q = pair[mine] - pivot[here]
        along = sum(q[:, i] * way[i][here] for i in range(3))
        off = sum(q[:, i] ** 2 for i in range(3)) - along**2
        far = np.sqrt(sum((pose[i][both] - pair[mine][:, i]) ** 2 for i in range(3)))
        want = far * found / asked[mine]
        square = want**2 - off
        short = square < 0
        new = np.maximum(along + np.sqrt(np.maximum(square, 0.0)), 0.01)
        done = np.max(np.abs(new / reach[here] - 1), initial=0.0) < _SETTLED
        reach[here] = new
        if done:
            break
    if short.any():
        at = int(run.t[both][int(np.argmax(short))])
        run.said["size"].append((at, "no reach on this bearing gives that size; the nearest is taken"))
    reach[here] = own[here] + weight[mine] * (reach[here] - own[here])
    return {**reaches, arm.id: reach}


def _share(run: Run, layer: SizeHold, frames: slice, pose: Pose, focal: Floats) -> Floats:
    """(n,) the share over the layer's frames."""
    if layer.id not in run.ends:
        run.ends[layer.id] = np.stack([end[frames] for end in ends_of(layer, run.context)])
    return tall_in(run.ends[layer.id], [v[frames] for v in pose], run.half(focal[frames])[1])
