"""The cut as an OpenTimelineIO timeline.

One video track: a clip for each shot, its source range in stage frames, gaps as gaps; cues as markers on the clips
that show them, in stage frames.
Lost: everything on the stage but the range; the lens and names travel as metadata.
"""

from fractions import Fraction

import opentimelineio as otio

from heron.bake import Bake
from heron.cut import Clocks
from heron.errors import Refused
from heron.scene import Scene, find
from heron.scene.limits import mounted_lens
from heron.timebase import Frames, parse_rate

NAMESPACE = "mellow_heron"


def write_otio(scene: Scene) -> str:
    """The cut as `.otio` JSON text.

    Raises:
        Refused: there is no cut to hand over.
    """
    if not scene.shots:
        raise Refused("There are no shots in the cut yet.", "Put a camera on the assembly first.")
    rate = parse_rate(scene.rate)
    clocks, bake = Clocks(scene), Bake(scene)
    timeline = otio.schema.Timeline(scene.name, global_start_time=_time(clocks.start, rate))
    timeline.metadata[NAMESPACE] = {"scene": scene.name, "rate": scene.rate, "delivery": scene.delivery.label}
    track = otio.schema.Track("Cut", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    for shot in scene.shots:
        if shot.gap_before:
            track.append(
                otio.schema.Gap(source_range=_range(Frames(first=0, last=shot.gap_before - 1), rate))
            )
        camera = find(scene, "cameras", shot.camera)
        at = bake.samples(camera, Frames(first=shot.stage.first, last=shot.stage.first)).at(shot.stage.first)
        mounted = mounted_lens(scene, camera)
        clip = otio.schema.Clip(shot.name, source_range=_range(shot.stage, rate))
        clip.media_reference = otio.schema.MissingReference(
            name=f"{camera.letter} {camera.name}", available_range=_range(scene.frames, rate)
        )
        clip.metadata[NAMESPACE] = {
            "shot": shot.name,
            "camera": camera.letter,
            "camera_name": camera.name,
            "lens_mm": at["focal_mm"],
            "lens": mounted.name if mounted else "",
            "aperture": at["aperture"],
            "film_back_mm": [camera.lens.back.width_mm, camera.lens.back.height_mm],
            "stage_first": shot.stage.first,
            "stage_last": shot.stage.last,
        }
        for cue in scene.cues:
            if cue.frame in shot.stage:
                marker = otio.schema.Marker(
                    cue.name, marked_range=_range(Frames(first=cue.frame, last=cue.frame), rate)
                )
                marker.metadata[NAMESPACE] = {"cue": cue.id, "stage": cue.frame}
                clip.markers.append(marker)
        track.append(clip)
    return str(timeline.to_json_string())


def _time(frame: int, rate: Fraction) -> otio.opentime.RationalTime:
    return otio.opentime.RationalTime(frame, float(rate))


def _range(frames: Frames, rate: Fraction) -> otio.opentime.TimeRange:
    return otio.opentime.TimeRange(_time(frames.first, rate), _time(frames.count, rate))
