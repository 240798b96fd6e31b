"""A cut that comes back from the edit, as OpenTimelineIO or as a list of the CMX 3600 form, read as clips.

The lowest picture track counts; stacks and nested tracks are flattened. Frame numbers are the link: a list counted at
another rate is read frame for frame, or by time where that is asked for.
"""

import json
import re
from typing import Any, Literal

import opentimelineio as otio

from heron.cut.conforming import Came
from heron.errors import BadInput
from heron.formats.otio import NAMESPACE
from heron.model import changed
from heron.scene import Scene
from heron.timebase import parse_rate
from heron.timebase.frames import MAX_FRAMES

#: More clips than that no scene has.
MOST_CLIPS = 2000
#: Larger files are isn't a list of shots, bytes.
_MOST = 40 * 2**20


def read_edit(
    content: bytes,
    name: str,
    scene: Scene,
    rate: float | None = None,
    by: Literal["frames", "time"] = "frames",
) -> tuple[Came, ...]:
    """The clips of a cut.

    Args:
        rate: of an EDL, which doesn't say it; left out, the scene's.

    Raises:
        BadInput: it cannot be read, has no picture, or too many clips.
    """
    if len(content) > _MOST:
        raise BadInput(f"{name} is {len(content) / 2**20:.0f} MB.", "Give a list of shots.")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    own = float(parse_rate(scene.rate))
    timeline = _otio(text, name) if text.lstrip().startswith("{") else _edl(text, name, rate or own)
    track = _picture(timeline, name)
    clips = tuple(_clips(track, own if by == "time" else None))
    if clips and not text.lstrip().startswith("{"):
        clips = (changed(clips[0], gap=clips[0].gap + _black_before(text, rate or own)), *clips[1:])
    if not clips:
        raise BadInput(f"{name} has no clips.", "Export it again with its picture track.")
    if len(clips) > MOST_CLIPS:
        raise BadInput(f"{name} has {len(clips):,} clips.", f"Up to {MOST_CLIPS:,} are read.")
    return clips


def _otio(text: str, name: str) -> Any:
    try:
        json.loads(text)
        found = otio.adapters.read_from_string(text, "otio_json")
        if not isinstance(found, otio.schema.Timeline | otio.schema.Track | otio.schema.Stack):
            raise TypeError(type(found).__name__)
        return found
    except Exception as error:  # whatever its reader says
        raise BadInput(
            f"{name} is not an OpenTimelineIO file that can be read.", "Export it again as .otio."
        ) from error


def _edl(text: str, name: str, rate: float) -> Any:
    if not re.search(r"^\s*\d+\s+\S+\s+\S+\s+\S+", text, re.MULTILINE):
        raise BadInput(
            f"{name} isn't a list of shots.", "Give an .otio file, or an EDL of the CMX 3600 form."
        )
    try:
        return otio.adapters.read_from_string(text, "cmx_3600", rate=rate)
    except Exception as error:  # whatever its reader says
        line = next(
            (
                i
                for i, one in enumerate(text.splitlines(), 1)
                if re.match(r"\s*\d+\s", one) and len(re.findall(r"\d\d:\d\d:\d\d[:;]\d\d", one)) != 4
            ),
            None,
        )
        where = (
            f"line {line} of it cannot be read"
            if line
            else f"it cannot be read ({str(error).splitlines()[0][:80] if str(error) else type(error).__name__})"
        )
        raise BadInput(
            f"{name} isn't a CMX 3600 EDL: {where}.", "Export it again, one picture track alone."
        ) from error


def _black_before(text: str, rate: float) -> int:
    """Frames of black at the head of such a list, which are no event: it begins so much after a whole hour."""
    found = re.search(r"^\s*\d+\s.*?((?:\d\d[:;]){3}\d\d)\s+(?:\d\d[:;]){3}\d\d\s*$", text, re.MULTILINE)
    if found is None:
        return 0
    begin = round(otio.opentime.from_timecode(found[1], rate).value)
    hour = round(otio.opentime.from_timecode(f"{found[1][:2]}:00:00{found[1][8]}00", rate).value)
    # One that begins minutes into an hour is counted from there.
    return begin - hour if begin - hour < 60 * rate else 0


def _picture(timeline: Any, name: str) -> Any:
    tracks = list(timeline.tracks) if hasattr(timeline, "tracks") else [timeline]
    found = next(
        (
            one
            for one in tracks
            if getattr(one, "kind", otio.schema.TrackKind.Video) == otio.schema.TrackKind.Video
        ),
        None,
    )
    if found is None:
        raise BadInput(f"{name} has no picture track.", "Export it again with its picture.")
    return found


def _clips(track: Any, to_rate: float | None) -> list[Came]:
    out: list[Came] = []
    gap = shift = 0
    for item in track:
        if isinstance(item, otio.schema.Transition):
            into, on = _frames(item.in_offset, to_rate), _frames(item.out_offset, to_rate)
            # In a list of the CMX form a dissolve begins where its clip does; here it lies about the joint.
            if not into and on > 1 and out and not item.metadata.get(NAMESPACE):
                shift = on // 2
                out[-1] = changed(out[-1], count=out[-1].count + shift)
            continue
        if isinstance(item, otio.schema.Gap):
            gap += _frames(item.trimmed_range().duration, to_rate)
            continue
        if isinstance(item, otio.schema.Stack | otio.schema.Track):
            inner = item if isinstance(item, otio.schema.Track) else next(iter(item), None)
            nested = (
                [inner] if isinstance(inner, otio.schema.Clip) else list(inner) if inner is not None else []
            )
            made = _clips(nested, to_rate)
        else:
            one = _came(item, to_rate)
            made = [one] if one is not None else []
        if made:
            first = made[0]
            made[0] = changed(
                first,
                gap=min(first.gap + gap, MAX_FRAMES),
                first=first.first + shift,
                count=max(first.count - shift, 1),
            )
            gap = shift = 0
        out += made
    return out


def _came(clip: Any, to_rate: float | None) -> Came | None:
    told = dict(clip.metadata.get(NAMESPACE, {}))
    whole = clip.trimmed_range()
    first, count = _frames(whole.start_time, to_rate), _frames(whole.duration, to_rate)
    speed = 1.0
    for effect in clip.effects:
        if isinstance(effect, otio.schema.LinearTimeWarp):
            speed *= float(effect.time_scalar)
    begin = told.get("source_first")
    if isinstance(begin, int) and isinstance(told.get("stage_first"), int):
        # It is cut from a movie, in that one's own time.
        first += told["stage_first"] - begin
    media = getattr(clip.media_reference, "name", "") or ""
    camera = str(told.get("camera") or (media.split(" ")[0] if re.match(r"^[A-Z]{1,3}( |$)", media) else ""))
    shot = told.get("shot_id")
    if not 1 <= count <= MAX_FRAMES or abs(first) > 2 * MAX_FRAMES or abs(speed) > 1000:
        return None
    plain = "".join(c if c.isprintable() else " " for c in str(clip.name or ""))[:80].strip()
    return Came(
        name=plain, shot=shot if isinstance(shot, str) and re.fullmatch(r"[A-Za-z0-9_-]{1,40}", shot) else None, camera=camera[:80],
        first=first, count=count, speed=speed,
    )  # fmt: skip


def _frames(time: Any, to_rate: float | None) -> int:
    value = float(time.rescaled_to(to_rate).value if to_rate is not None else time.value)
    return round(value)
