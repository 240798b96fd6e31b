"""A film as one OpenTimelineIO timeline: each scene's own timeline, nested as a stack on one track."""

from collections.abc import Mapping

import opentimelineio as otio

from heron.cut import Clocks
from heron.film.document import FilmDoc, SceneCut, laid
from heron.formats.otio import NAMESPACE, write_otio
from heron.scene import Scene
from heron.timebase import parse_rate, parse_timecode


def write_film(film: FilmDoc, scenes: Mapping[int, Scene]) -> str:
    """The film as `.otio` JSON text.

    Each scene's cut lies in it at the scene's own rate, trimmed to what the film shows. A scene that keeps its time is
    as long in seconds as in its own cut; one that is played frame for frame is said to run at the film's rate.

    Raises:
        Refused: a scene has another rate, and nobody said how it fits.
    """
    cuts = {id_: SceneCut(one.name, one.rate, Clocks(one).length) for id_, one in scenes.items()}
    frames, rate = laid(film, cuts), parse_rate(film.rate)
    start = otio.opentime.RationalTime(parse_timecode(film.start, rate), float(rate))
    timeline = otio.schema.Timeline(film.name, global_start_time=start)
    timeline.metadata[NAMESPACE] = {"film": film.name, "rate": film.rate}
    track = otio.schema.Track("Film", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    for reel, of in zip(film.reels, frames.reels, strict=True):
        if not of.count:
            continue
        scene = scenes[reel.scene]
        inner = otio.adapters.read_from_string(write_otio(scene), "otio_json")
        stack = otio.schema.Stack(scene.name)
        own = parse_rate(scene.rate)
        counted = rate if reel.fit == "frames" else own
        for one in list(inner.tracks):
            inner.tracks.remove(one)
            stack.append(one)
        stack.source_range = otio.opentime.TimeRange(
            otio.opentime.RationalTime(of.first, float(own)), otio.opentime.RationalTime(of.count, float(own))
        )
        stack.metadata[NAMESPACE] = {"scene": scene.name, "rate": scene.rate, "fit": reel.fit or ""}
        if counted != own:
            # As many frames in less or more time: a constant change of speed.
            stack.effects.append(otio.schema.LinearTimeWarp(time_scalar=float(rate / own)))
        track.append(stack)
    return str(timeline.to_json_string())
