"""Rows of renders: takes, their frames, remarks on them, and presets."""

from typing import ClassVar

from django.conf import settings
from django.db import models

from mellow.productions.json import Json
from mellow.productions.models import Production, Scene


class Take(models.Model):
    """A render of a scene as it was at a revision: `frozen` is a copy of it, which nobody changes.

    `movie` says for each of its frames the place of the one that is shown; null is black. `said` is what was done
    otherwise than asked. `until` is when its `packer` must have been heard from again.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        DRAWING = "drawing"
        PACKING = "packing"
        DONE = "done"
        LACKING = "lacking"
        CANCELLED = "cancelled"
        FAILED = "failed"

    UNFINISHED: ClassVar[tuple[str, ...]] = (State.WAITING, State.DRAWING, State.PACKING)

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="takes")
    frozen = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="drawn_as")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    note = models.CharField(max_length=200, blank=True)
    render = Json()
    wide = models.PositiveIntegerField()
    high = models.PositiveIntegerField()
    movie = Json()
    said = Json(default=list)
    state = models.CharField(max_length=9, choices=State, default=State.WAITING)
    reason = models.TextField(blank=True)
    packed = models.PositiveIntegerField(default=0)
    until = models.DateTimeField(null=True)
    packer = models.CharField(max_length=80, blank=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["scene", "number"], name="take_once")]


class TakeFrame(models.Model):
    """One frame that a take draws. `key` names its kept picture; `picture` is the fingerprint of what is on it.

    `by` has claimed it `until` then; `tries` counts claims; `reused` if its picture was there before.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        CLAIMED = "claimed"
        DONE = "done"
        FAILED = "failed"

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="frames")
    place = models.PositiveIntegerField()
    cut = models.PositiveIntegerField(null=True)
    shot = models.CharField(max_length=80, blank=True)
    letter = models.CharField(max_length=3)
    camera = models.CharField(max_length=40)
    stage = models.PositiveIntegerField()
    name = models.CharField(max_length=400)
    slate = models.TextField(blank=True)
    #: What it is added up from, where it fades or dissolves.
    mixed = models.JSONField(null=True)
    picture = models.CharField(max_length=24)
    key = models.CharField(max_length=32)
    state = models.CharField(max_length=8, choices=State, default=State.WAITING)
    by = models.CharField(max_length=80, blank=True)
    until = models.DateTimeField(null=True)
    done_at = models.DateTimeField(null=True)
    tries = models.PositiveSmallIntegerField(default=0)
    reused = models.BooleanField(default=False)
    reason = models.TextField(blank=True)

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["take", "place"], name="take_frame_once")]
        indexes = [
            models.Index(fields=["take", "state"], name="take_frame_by_state"),
            models.Index(fields=["key", "state"], name="take_frame_by_key"),
        ]


class Remark(models.Model):
    """Something said of a frame of a take's movie, ticked off once it is seen to."""

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="remarks")
    frame = models.PositiveIntegerField()
    text = models.CharField(max_length=500)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    ticked = models.BooleanField(default=False)

    class Meta:
        ordering = ["frame", "pk"]


class Preset(models.Model):
    """A way to render, kept under a name."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="presets")
    name = models.CharField(max_length=80)
    render = Json()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["production", "name"], name="preset_once")]
