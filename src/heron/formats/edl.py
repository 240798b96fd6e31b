"""The cut as a list of the CMX 3600 form, by OpenTimelineIO's adapter: source timecode is the stage frame.

Reels are camera letters: letters and digits alone, since a reel of two words makes a dissolve that no reader takes. Sounds and
all that is on the stage are lost.
"""

import re

import opentimelineio as otio

from heron.errors import Refused
from heron.formats.otio import write_otio
from heron.scene import Scene
from heron.timebase import parse_rate


def write_edl(scene: Scene) -> str:
    """The cut's picture as an EDL.

    Raises:
        Refused: there is no cut, or its rate has no timecode in such a list.
    """
    timeline = otio.adapters.read_from_string(write_otio(scene), "otio_json")
    track = timeline.tracks[0]
    del timeline.tracks[1:]
    for item in list(track):
        if isinstance(item, otio.schema.Transition):
            # Fades to and from black are no events of such a list.
            if item.transition_type != otio.schema.TransitionTypes.SMPTE_Dissolve:
                track.remove(item)
            continue
        item.markers.clear()
        if isinstance(item, otio.schema.Clip):
            letter = item.metadata["mellow_heron"].get("camera", "") or "BL"
            item.metadata["cmx_3600"] = {"reel": re.sub(r"[^A-Z0-9]", "", letter.upper())[:8] or "AX"}
            item.media_reference = otio.schema.MissingReference(
                name=item.media_reference.name or letter, available_range=item.media_reference.available_range
            )
    try:
        return str(
            otio.adapters.write_to_string(
                timeline, "cmx_3600", rate=float(parse_rate(scene.rate)), style="nucoda"
            )
        )
    except Exception as error:  # whatever its writer says
        raise Refused(
            f"The cut cannot be written as such a list: {str(error).splitlines()[0][:120]}.",
            "Hand over the .otio instead.",
        ) from error
