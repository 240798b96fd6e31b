"""What a careful eye says of frames and cuts."""

from heron.notes.kinds import KINDS, Kind
from heron.notes.note import Note, Remedy
from heron.notes.of_camera import notes_of_camera, weight
from heron.notes.of_cut import notes_of_cut

__all__ = ["KINDS", "Kind", "Note", "Remedy", "notes_of_camera", "notes_of_cut", "weight"]
