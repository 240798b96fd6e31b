"""Rows of what was handed over."""

from django.db import models

from mellow.productions.json import Json
from mellow.productions.models import Scene


class HandedOver(models.Model):
    """Something handed over: for whom, of which revision, what was asked for, and its files with their sizes.

    `where` is the folder that it was written into, below the one that the server hands over into; empty for a download.
    """

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="handed_over")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    recipient = models.CharField(max_length=16)
    asked = Json()
    files = Json()
    where = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["scene", "number"], name="handed_over_once")]
