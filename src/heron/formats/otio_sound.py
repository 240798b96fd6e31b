"""The sounds of a cut as audio tracks of an OpenTimelineIO timeline, with ranges in samples at 48 kHz."""

import opentimelineio as otio

from heron.scene import Scene
from heron.scene.sound import SOUND_LANES
from heron.sound.clips import Clip, clips_of
from heron.sound.samples import RATE

#: Where the files of sounds lie, as seen from the timeline.
FOLDER = "sounds"


def audio_tracks(scene: Scene, namespace: str) -> list[otio.schema.Track]:
    """A track for each lane that is used, and a further one where sounds of a lane are heard at once."""
    found = []
    clips = clips_of(scene)
    for lane in SOUND_LANES:
        for number, row in enumerate(_rows([clip for clip in clips if clip.sound.lane == lane]), 1):
            name = lane.capitalize() if number == 1 else f"{lane.capitalize()} {number}"
            track = otio.schema.Track(name, kind=otio.schema.TrackKind.Audio)
            at = 0
            for clip in row:
                if clip.start > at:
                    track.append(otio.schema.Gap(source_range=_range(0, clip.start - at)))
                track.append(_clip(clip, namespace))
                at = clip.stop
            found.append(track)
    return found


def _rows(clips: list[Clip]) -> list[list[Clip]]:
    """Clips in as few rows as it takes for none to overlap in its row."""
    rows: list[list[Clip]] = []
    for clip in clips:
        row = next((row for row in rows if row[-1].stop <= clip.start), None)
        if row is None:
            rows.append([clip])
        else:
            row.append(clip)
    return rows


def _clip(clip: Clip, namespace: str) -> otio.schema.Clip:
    sound = clip.sound
    file = otio.schema.ExternalReference(f"{FOLDER}/{sound.file}.flac", _range(0, sound.samples))
    told = {
        "sound": sound.id,
        "on": sound.on,
        "gain_db": sound.gain_db,
        "fade_in": sound.fade_in,
        "fade_out": sound.fade_out,
        "loop": sound.loop,
    }
    return otio.schema.Clip(
        sound.name, file, _range(sound.slip + clip.into, clip.stop - clip.start), metadata={namespace: told}
    )


def _range(first: int, count: int) -> otio.opentime.TimeRange:
    return otio.opentime.TimeRange(
        otio.opentime.RationalTime(first, RATE), otio.opentime.RationalTime(count, RATE)
    )
