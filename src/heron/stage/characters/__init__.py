"""Characters that were brought in: skins on a figure's joints, with proportions of their own."""

from heron.stage.characters.kept import CharacterFile, Skin, character_of, inverse_of
from heron.stage.characters.proportions import physique_of

__all__ = ["CharacterFile", "Skin", "character_of", "inverse_of", "physique_of"]
