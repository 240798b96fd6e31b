"""Geometry that was brought in: read from files that are kept by their content, met by rays, stood on and cut for plans."""

from heron.stage.models.kept import find_files, model_of
from heron.stage.models.part import ModelFile, Part, Surface

__all__ = ["ModelFile", "Part", "Surface", "find_files", "model_of"]
