"""Rows: ordering, ownership, names and links are columns, an item's own parameters one JSON column."""

from django.conf import settings
from django.db import models

from heron.scene.upgrades import VERSION
from mellow.productions.json import Json


class Production(models.Model):
    """What scenes belong to; `kit` is the lens kit its new scenes begin with, once it keeps one."""

    name = models.CharField(max_length=80, unique=True)
    kit = Json(null=True, default=None)


class Pose(models.Model):
    """A pose kept for every scene of a production: its numbers, and the stature of whom it was made of, metres."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="poses")
    name = models.CharField(max_length=80)
    numbers = Json()
    stature = models.FloatField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["production", "name"], name="kept_pose_once")]


class Board(models.Model):
    """A picture that stands for a shot: a JPEG under the hash of what it shows. In the database, so that a backup has it."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="boards")
    key = models.CharField(max_length=24, unique=True)
    content = models.BinaryField()


class SoundFile(models.Model):
    """A sound that scenes use: FLAC under the hash of it, and how many samples it has. In the database, as boards are."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="sounds")
    key = models.CharField(max_length=24, unique=True)
    samples = models.PositiveIntegerField()
    content = models.BinaryField()


class Scene(models.Model):
    """A scene; `revision` counts its changes, undone ones too.

    A frozen one is a copy of another as it was at a revision: what was rendered. Nobody changes it.
    """

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="scenes")
    name = models.CharField(max_length=80)
    rate = models.CharField(max_length=16)
    first = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    settings = Json()
    version = models.PositiveSmallIntegerField(default=VERSION)
    revision = models.PositiveIntegerField(default=0)
    frozen_of = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="frozen")
    frozen_at = models.PositiveIntegerField(null=True)
    #: Since when it lies in the trash.
    put_away = models.DateTimeField(null=True)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)


class ScenePicture(models.Model):
    """A small picture of a scene as it was at a revision: a JPEG, for lists."""

    scene = models.OneToOneField(Scene, on_delete=models.CASCADE, related_name="picture")
    revision = models.PositiveIntegerField()
    content = models.BinaryField()


class Item(models.Model):
    """Something in a scene; `revision` is the scene's when it last changed, `version` its content's."""

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE)
    uid = models.CharField(max_length=40)
    order = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    revision = models.PositiveIntegerField()
    params = Json()
    version = models.PositiveSmallIntegerField(default=VERSION)

    class Meta:
        abstract = True
        constraints = [models.UniqueConstraint(fields=["scene", "uid"], name="%(class)s_once")]
        ordering = ["order"]


class Figure(Item):
    """A person on the stage."""


class Mover(Item):
    """A rigid thing with a keyed path."""


class Piece(Item):
    """A set piece."""

    group = models.CharField(max_length=80, blank=True)


class Perch(Item):
    """A saved view."""

    group = models.CharField(max_length=80, blank=True)


class Lens(Item):
    """A lens of the scene's kit."""


class Camera(Item):
    """A camera."""

    letter = models.CharField(max_length=3)


class Shot(Item):
    """A shot of the cut; without a camera it is a slate."""

    camera = models.ForeignKey(Camera, on_delete=models.PROTECT, related_name="shots", null=True)


class Line(Item):
    """A line of dialogue; its name is how it begins."""


class Sound(Item):
    """A sound on the stage or in the cut; the file it is part of is kept by its key."""


class Cue(Item):
    """A named moment of the stage."""


class Pass(Item):
    """What a hand did with a thing."""


class Change(models.Model):
    """The log: one row for each revision of a scene, undo and redo among them.

    `patch` is what it changed and `inverse` takes exactly that back; `touched` names all that it
    touches, for the stale check. An undo or redo says which change it is `of`.
    """

    class Kind(models.TextChoices):
        DO = "do"
        UNDO = "undo"
        REDO = "redo"

    class State(models.TextChoices):
        DONE = "done"
        UNDONE = "undone"
        DROPPED = "dropped"

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="changes")
    revision = models.PositiveIntegerField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    kind = models.CharField(max_length=4, choices=Kind, default=Kind.DO)
    of = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="turns")
    sentence = models.TextField()
    command = Json(null=True)
    patch = Json()
    inverse = Json()
    touched = Json(default=list)
    version = models.PositiveSmallIntegerField(default=VERSION)
    state = models.CharField(max_length=8, choices=State, default=State.DONE)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        constraints = [models.UniqueConstraint(fields=["scene", "revision"], name="change_once")]
        indexes = [models.Index(fields=["scene", "author", "kind", "state"], name="change_by_author")]
