"""The cut as an OpenTimelineIO timeline.

One video track: a clip for each shot, its source range in stage frames, gaps as gaps; cues as markers on the clips
that show them, in stage frames. Where the cut was rendered, clips point at the pictures, or at the movie: then a clip's
range is in the movie's own timecode. Where only some shots were, the others are gaps, so that each stands in its place.
A dissolve is a transition between two clips; a fade, one at a clip's end, with nothing on its other side. Pictures that
were rendered have both in them, so beside those no transition is written. Sounds are audio tracks, a lane each.
Lost: everything on the stage but the range; the lens and names travel as metadata.
"""

from dataclasses import dataclass, field
from fractions import Fraction

import opentimelineio as otio

from heron.bake import Bake
from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.frames import Plan, movie_begins
from heron.dailies.names import folders
from heron.errors import Refused
from heron.formats.otio_sound import audio_tracks
from heron.scene import Scene, Shot, find
from heron.scene.limits import mounted_lens
from heron.timebase import Frames, parse_rate

NAMESPACE = "mellow_heron"


@dataclass(frozen=True)
class Media:
    """Rendered media beside the timeline, at paths relative to it.

    Attributes:
        shots: by the folder of each shot that was rendered, at which of the movie's frames it begins, counted from 0.
        sequences: by the shot's folder, the folder's path, what its pictures' names begin with, and its first and last
            frame of the stage.
        kind: the pictures' file ending.
        movie: the movie's path, if there is one; begin is the cut's frame that its timecode begins with, length how
            many frames it has.
    """

    shots: dict[str, int]
    sequences: dict[str, tuple[str, str, int, int]] = field(default_factory=dict)
    kind: str = "png"
    movie: str | None = None
    begin: int = 0
    length: int = 0


def media_of(render: Render, plan: Plan, movie: str, kind: str) -> Media:
    """What a render of the cut or of its shots hands over, as a timeline refers to it.

    Args:
        movie: its path.
        kind: the pictures' file ending.
    """
    shots: dict[str, int] = {}
    for at, place in enumerate(plan.movie):
        if place is not None and plan.frames[place].name:
            shots.setdefault(plan.frames[place].name.split("/", 1)[0], at)
    sequences: dict[str, tuple[str, str, int, int]] = {}
    for frame in plan.frames if render.pictures != "none" else ():
        if not frame.name:
            continue
        folder, name = frame.name.split("/", 1)
        prefix = name.rsplit(".", 1)[0] + "."
        first = sequences[folder][2] if folder in sequences else frame.stage
        sequences[folder] = (f"pictures/{folder}/", prefix, first, frame.stage)
    return Media(
        shots,
        sequences,
        kind,
        movie if render.movie else None,
        movie_begins(render, plan) or 0,
        len(plan.movie),
    )


def write_otio(scene: Scene, media: Media | None = None, revision: int = 0) -> str:
    """The cut as `.otio` JSON text; with rendered media its clips point at that.

    Each clip says which shot it is, of which revision of the scene, so that the cut finds its way back.

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
    places = folders([shot.name for shot in scene.shots])
    empty = 0
    #: What stands on the track so far; None is black.
    clips: list[Shot | None] = []
    for folder, placed in zip(places, clocks.placed, strict=True):
        shot = placed.shot
        empty += shot.gap_before
        if media and folder not in media.shots:
            empty += shot.stage.count
            continue
        if empty:
            if media is None and clips and (end := _joint(None, clips[-1], rate)) is not None:
                track.append(end)
            clips.append(None)
            track.append(otio.schema.Gap(source_range=_range(Frames(first=0, last=empty - 1), rate)))
        empty = 0
        if media is None and (joint := _joint(shot, clips[-1] if clips else None, rate)) is not None:
            track.append(joint)
        clips.append(shot)
        if shot.camera is None:
            slate = otio.schema.Clip(
                shot.name, otio.schema.MissingReference(name="slate"), _range(shot.stage, rate)
            )
            slate.metadata[NAMESPACE] = {
                "shot": shot.name,
                "shot_id": shot.id,
                "revision": revision,
                "note": shot.note,
            }
            track.append(slate)
            continue
        camera = find(scene, "cameras", shot.camera)
        row = bake.samples(camera, Frames(first=shot.stage.first, last=shot.stage.first)).at(shot.stage.first)
        mounted = mounted_lens(scene, camera)
        clip = otio.schema.Clip(shot.name, source_range=_range(shot.stage, rate))
        clip.media_reference = otio.schema.MissingReference(
            name=f"{camera.letter} {camera.name}", available_range=_range(scene.frames, rate)
        )
        if media and folder in media.sequences:
            clip.media_reference = _sequence(*media.sequences[folder], media.kind, rate)
        elif media and media.movie:
            begin = clocks.start + media.begin
            whole = otio.opentime.TimeRange(_time(begin, rate), _time(media.length, rate))
            clip.media_reference = otio.schema.ExternalReference(media.movie, whole)
            clip.source_range = otio.opentime.TimeRange(
                _time(begin + media.shots[folder], rate), _time(shot.stage.count, rate)
            )
        clip.metadata[NAMESPACE] = {
            "shot": shot.name,
            "camera": camera.letter,
            "camera_name": camera.name,
            "lens_mm": row["focal_mm"],
            "lens": mounted.name if mounted else "",
            "aperture": row["aperture"],
            "film_back_mm": [camera.lens.back.width_mm, camera.lens.back.height_mm],
            "shot_id": shot.id,
            "revision": revision,
            "stage_first": shot.stage.first,
            "stage_last": shot.stage.last,
            "source_first": round(clip.source_range.start_time.value),
        }
        for cue in scene.cues:
            if cue.frame in shot.stage:
                # In the clip's own time, which is the stage's unless it points at a movie.
                at = clip.source_range.start_time + _time(cue.frame - shot.stage.first, rate)
                marker = otio.schema.Marker(
                    cue.name, marked_range=otio.opentime.TimeRange(at, _time(1, rate))
                )
                marker.metadata[NAMESPACE] = {"cue": cue.id, "stage": cue.frame}
                clip.markers.append(marker)
        track.append(clip)
    if media is None and clips and (end := _joint(None, clips[-1], rate)) is not None:
        track.append(end)
    timeline.tracks.extend(audio_tracks(scene, NAMESPACE))
    return str(timeline.to_json_string())


def _joint(shot: Shot | None, before: Shot | None, rate: Fraction) -> otio.schema.Transition | None:
    """What lies between a shot and what is before it (None: black, or the end): a dissolve, a fade, two fades that meet."""
    if shot is not None and before is not None and shot.dissolve:
        kind, frames = otio.schema.TransitionTypes.SMPTE_Dissolve, shot.dissolve
    else:
        kind, frames = "Fade", (before.fade_out if before else 0, shot.fade_in if shot else 0)
    if not any(frames):
        return None
    colours = {
        "out": before and before.fade_out and before.fade_colour,
        "in": shot and shot.fade_in and shot.fade_colour,
    }
    told = {key: value for key, value in colours.items() if value and kind == "Fade"}
    return otio.schema.Transition(
        transition_type=kind, in_offset=_time(frames[0], rate), out_offset=_time(frames[1], rate),
        metadata={NAMESPACE: {"fade_colour": told}} if told else {},
    )  # fmt: skip


def _sequence(
    path: str, prefix: str, first: int, last: int, kind: str, rate: Fraction
) -> otio.schema.ImageSequenceReference:
    return otio.schema.ImageSequenceReference(
        target_url_base=path, name_prefix=prefix, name_suffix=f".{kind}", start_frame=first, frame_step=1,
        rate=float(rate), frame_zero_padding=4, available_range=_range(Frames(first=first, last=last), rate),
    )  # fmt: skip


def _time(frame: int, rate: Fraction) -> otio.opentime.RationalTime:
    return otio.opentime.RationalTime(frame, float(rate))


def _range(frames: Frames, rate: Fraction) -> otio.opentime.TimeRange:
    return otio.opentime.TimeRange(_time(frames.first, rate), _time(frames.count, rate))
