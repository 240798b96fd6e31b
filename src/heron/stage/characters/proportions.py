"""Whose proportions a figure has."""

from functools import lru_cache

from heron.stage.characters.kept import character_of
from heron.stage.figure import Figure
from heron.stage.physique import Physique, Proportions


def physique_of(figure: Figure) -> Physique:
    """A figure's own lengths: those of its character, or of the lay figure without one, or where its file is not here."""
    if figure.character is not None:
        character = character_of(figure.character)
        if character is not None:
            return _physique(figure.stature, character.proportions)
    return _lay_figure(figure.stature)


@lru_cache(maxsize=256)
def _lay_figure(stature: float) -> Physique:
    return Physique(stature)


@lru_cache(maxsize=64)
def _physique(stature: float, proportions: Proportions) -> Physique:
    return Physique(stature, proportions)
