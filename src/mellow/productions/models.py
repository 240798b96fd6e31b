"""Rows: ordering, ownership, names and links are columns, an item's own parameters one JSON column."""

from django.conf import settings
from django.db import models


class Production(models.Model):
    """What scenes belong to; `kit` is the lens kit its new scenes begin with, once it keeps one."""

    name = models.CharField(max_length=80, unique=True)
    kit = models.JSONField(null=True, default=None)


class Scene(models.Model):
    """A scene; `revision` counts its changes, undone ones too."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="scenes")
    name = models.CharField(max_length=80)
    rate = models.CharField(max_length=16)
    first = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    settings = models.JSONField()
    revision = models.PositiveIntegerField(default=0)
    settings_revision = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)


class Item(models.Model):
    """Something in a scene; `revision` is the scene's when it last changed."""

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE)
    uid = models.CharField(max_length=40)
    order = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    revision = models.PositiveIntegerField()
    params = models.JSONField()

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


class Lens(Item):
    """A lens of the scene's kit."""


class Camera(Item):
    """A camera."""

    letter = models.CharField(max_length=3)


class Shot(Item):
    """A shot of the cut."""

    camera = models.ForeignKey(Camera, on_delete=models.PROTECT, related_name="shots")


class Edit(models.Model):
    """A command that was done: who, what, and its exact inverse."""

    class State(models.TextChoices):
        DONE = "done"
        UNDONE = "undone"
        DROPPED = "dropped"

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="edits")
    revision = models.PositiveIntegerField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    sentence = models.TextField()
    command = models.JSONField()
    undo = models.JSONField()
    redo = models.JSONField()
    state = models.CharField(max_length=8, choices=State, default=State.DONE)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        indexes = [models.Index(fields=["scene", "author", "state", "revision"], name="edit_by_author")]
