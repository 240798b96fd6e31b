"""Faces: ten numbers over frames, and the joints of a face that they move."""

from heron.stage.face.numbers import EXPRESSIONS, NUMBERS, face_numbers
from heron.stage.face.rig import FACE, FaceJoint

__all__ = ["EXPRESSIONS", "FACE", "NUMBERS", "FaceJoint", "face_numbers"]
