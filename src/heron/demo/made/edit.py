"""Somebody who edits: takes a timeline that was handed over, and cuts it otherwise."""

import opentimelineio as otio


def cut_otherwise(timeline: str) -> str:
    """The timeline with the second clip shorter at its head, the last one shorter at its tail, and some black before that.

    Args:
        timeline: `.otio` text.
    """
    cut = otio.adapters.read_from_string(timeline, "otio_json")
    track = cut.video_tracks()[0]
    clips = [one for one in track if isinstance(one, otio.schema.Clip)]
    rate = clips[0].source_range.duration.rate

    def trim(clip: otio.schema.Clip, head: int, tail: int) -> None:
        taken = clip.source_range
        clip.source_range = otio.opentime.TimeRange(
            taken.start_time + otio.opentime.RationalTime(head, rate), taken.duration - otio.opentime.RationalTime(head + tail, rate)
        )  # fmt: skip

    trim(clips[1], 6, 0)
    trim(clips[-1], 0, 9)
    black = otio.schema.Gap(
        source_range=otio.opentime.TimeRange(duration=otio.opentime.RationalTime(8, rate))
    )
    track.insert(list(track).index(clips[-1]), black)
    return str(otio.adapters.write_to_string(cut, "otio_json"))
