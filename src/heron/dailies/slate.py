"""What is written on a frame so that everybody speaks of the same one."""

from heron.bake import Bake
from heron.cut import Clocks
from heron.scene import Camera, Scene, find


def slate_of_cut(scene: Scene, bake: Bake, clocks: Clocks, cut: int) -> str:
    """The slate of a frame of the cut; empty in a gap."""
    found = clocks.to_stage(cut)
    if found is None:
        return ""
    camera = find(scene, "cameras", clocks.placed[found[0]].shot.camera)
    return slate(scene, bake, camera, found[1], clocks, cut)


def slate(
    scene: Scene, bake: Bake, camera: Camera, stage: int, clocks: Clocks | None = None, cut: int | None = None
) -> str:
    """Scene, camera, lens, stop, focus and stage frame; in the cut the shot and all three clocks as well."""
    at = bake.samples(camera).at(stage)
    focus = f"{1 / at['focus_per_m']:.2f} m" if at["focus_per_m"] > 1e-4 else "∞"
    found = clocks.to_stage(cut) if clocks is not None and cut is not None else None
    shot = clocks.placed[found[0]].shot if clocks is not None and found is not None else None
    said = [scene.name, *([shot.name] if shot else []), f"{camera.letter} {camera.name}"]
    said += [f"{at['focal_mm']:.3g} mm f/{at['aperture']:.2g}", focus, f"stage {stage}"]
    if clocks is not None and cut is not None and found is not None and shot is not None:
        said += [f"shot {clocks.shot_frame(found[0], stage)}/{shot.stage.count}", clocks.timecode(cut)]
    return " · ".join(said)
