"""Rows of films: which scenes they show is in `doc`; `shows` keeps those scenes from being deleted for good."""

from django.conf import settings
from django.db import models

from mellow.dailies.models import Take
from mellow.productions.json import Json
from mellow.productions.models import Production, Scene


class Film(models.Model):
    """A film; `revision` counts its changes, undone ones too."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="films")
    name = models.CharField(max_length=80)
    doc = Json()
    revision = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]


class Shows(models.Model):
    """A scene that a film shows, once or several times."""

    film = models.ForeignKey(Film, on_delete=models.CASCADE, related_name="shows")
    scene = models.ForeignKey(Scene, on_delete=models.PROTECT, related_name="films")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["film", "scene"], name="film_shows_once")]


class FilmChange(models.Model):
    """The log of a film: what it was before and after each edit. An undone one is done again until something new is done."""

    film = models.ForeignKey(Film, on_delete=models.CASCADE, related_name="changes")
    revision = models.PositiveIntegerField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    sentence = models.TextField()
    before = Json()
    after = Json()
    undone = models.BooleanField(default=False)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]


class FilmRender(models.Model):
    """The film as one movie: a take of each scene, joined once all are there."""

    class State(models.TextChoices):
        DRAWING = "drawing"
        JOINING = "joining"
        DONE = "done"
        FAILED = "failed"
        CANCELLED = "cancelled"

    film = models.ForeignKey(Film, on_delete=models.CASCADE, related_name="renders")
    number = models.PositiveIntegerField()
    doc = Json()
    takes = models.ManyToManyField(Take, related_name="films")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=9, choices=State, default=State.DRAWING)
    joined = models.PositiveIntegerField(default=0)
    #: Who joins it, and until when that counts unless more is heard.
    joiner = models.CharField(max_length=80, blank=True)
    until = models.DateTimeField(null=True)
    reason = models.TextField(blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["film", "number"], name="film_render_once")]
