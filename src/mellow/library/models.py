"""Rows of the library: what was brought in, and what each file said."""

from django.db import models

from mellow.productions.json import Json
from mellow.productions.models import Production


class BroughtFile(models.Model):
    """A set or a prop that was brought in; its content lies in the media folder under its key.

    `source` is the SHA-256 of the file as it came, `report` what was read from it, `picture` a JPEG.
    """

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="files")
    key = models.CharField(max_length=64, unique=True)
    source = models.CharField(max_length=64)
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=16)
    size = models.PositiveBigIntegerField()
    report = Json()
    picture = models.BinaryField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created"]
