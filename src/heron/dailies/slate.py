"""What is written on a frame so that everybody speaks of the same one."""

from heron.bake import Bake
from heron.cut import Clocks
from heron.scene import Scene, find


def slate(scene: Scene, bake: Bake, clocks: Clocks, cut: int) -> str:
    """Scene, shot, camera, lens, stop, focus, the three clocks; empty in a gap."""
    found = clocks.to_stage(cut)
    if found is None:
        return ""
    index, stage = found
    shot = clocks.placed[index].shot
    camera = find(scene, "cameras", shot.camera)
    at = bake.samples(camera).at(stage)
    focus = f"{1 / at['focus_per_m']:.2f} m" if at["focus_per_m"] > 1e-4 else "∞"
    return " · ".join([
        scene.name, shot.name, f"{camera.letter} {camera.name}",
        f"{at['focal_mm']:.3g} mm f/{at['aperture']:.2g}", focus,
        f"stage {stage}", f"shot {clocks.shot_frame(index, stage)}/{shot.stage.count}", clocks.timecode(cut),
    ])  # fmt: skip
