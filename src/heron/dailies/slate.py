"""What is written on a frame so that everybody speaks of the same one."""

from heron.bake import Bake
from heron.cut import Clocks
from heron.lines.timing import said_over
from heron.scene import Camera, Scene, find
from heron.timebase import Frames


def slate_of_cut(scene: Scene, bake: Bake, clocks: Clocks, cut: int) -> str:
    """The slate of a frame of the cut; empty in a gap."""
    found = clocks.to_stage(cut)
    if found is None:
        return ""
    camera = find(scene, "cameras", clocks.placed[found[0]].shot.camera or "")
    return slate(scene, bake, camera, found[1], clocks, found[0])


def slate(
    scene: Scene,
    bake: Bake,
    camera: Camera,
    stage: int,
    clocks: Clocks | None = None,
    at: int | None = None,
    *,
    said: bool = False,
) -> str:
    """Scene, camera, lens, stop, focus and stage frame; in the cut the shot and all three clocks as well.

    Args:
        at: which shot of the cut it belongs to, counted from 0; it may be a spare frame of that.
        said: what is said at the frame as well.
    """
    row = bake.samples(camera).at(stage)
    focus = f"{1 / row['focus_per_m']:.2f} m" if row["focus_per_m"] > 1e-4 else "∞"
    placed = clocks.placed[at] if clocks is not None and at is not None else None
    told = [scene.name, *([placed.shot.name] if placed else []), f"{camera.letter} {camera.name}"]
    told += [f"{row['focal_mm']:.3g} mm f/{row['aperture']:.2g}", focus, f"stage {stage}"]
    if clocks is not None and at is not None and placed is not None:
        shot = placed.shot.stage
        if stage in shot:
            told.append(f"shot {clocks.shot_frame(at, stage)}/{shot.count}")
            told.append(clocks.timecode(clocks.to_cut(at, stage)))
        else:
            off = shot.first - stage if stage < shot.first else stage - shot.last
            told.append(f"spare, {off} {'before' if stage < shot.first else 'after'} the shot")
    if said:
        told += said_over(scene, Frames(first=stage, last=stage))
    return " · ".join(told)
