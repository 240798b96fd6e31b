"""A cut that is kept beside the one that plays."""

from pydantic import Field

from heron.model import Id, Label, Model, Name
from heron.scene.shot import Shot


class KeptCut(Model):
    """All shots of a cut under a name. Its cameras may be gone by the time it is used again."""

    id: Id
    name: Name
    shots: tuple[Shot, ...] = Field(default=(), max_length=5000)
    #: Who kept it, and when.
    by: Label = ""
    when: Label = ""
