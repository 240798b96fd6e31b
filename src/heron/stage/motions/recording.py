"""A recorded motion, carried over to the joints of a lay figure."""

import io
import zipfile
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any

import numpy as np

from heron.errors import BadInput
from heron.stage.models.kept import kept
from heron.stage.skeleton import ANKLE, HIP

Floats = np.ndarray[Any, np.dtype[np.float64]]
#: How long a leg is from hip to ankle, shares of stature.
LEG = HIP - ANKLE


@dataclass(frozen=True, eq=False)
class Recording:
    """What joints do over frames. Lengths are in legs (hip to ankle), so that it fits every stature.

    Attributes:
        rate: frames a second.
        place: (n, 2) of the root, x and z, from where it begins.
        heading: (n,) degrees, unwrapped, 0 where it begins.
        pelvis: (n, 3) of the pelvis in the root's frame; its height is over where ankles stand.
        turns: (n, J, 4) each joint's rotation in its parent's frame, the root's the identity.
        ankles: (n, 2, 3) right and left, in the root's frame, heights as the pelvis's.
        soles: (n, 2, 4) how each foot is turned in the root's frame.
        planted: (n, 2) whether each foot stands.
    """

    rate: float
    place: Floats
    heading: Floats
    pelvis: Floats
    turns: Floats
    ankles: Floats
    soles: Floats
    planted: np.ndarray[Any, np.dtype[np.bool_]]

    @property
    def seconds(self) -> float:
        """How long it takes."""
        return (len(self.heading) - 1) / self.rate

    @cached_property
    def steady(self) -> "Recording":
        """The same with rotations whose signs change nowhere, as going from one frame to the next needs."""
        return Recording(
            self.rate,
            self.place,
            self.heading,
            self.pelvis,
            _steady(self.turns),
            self.ankles,
            _steady(self.soles),
            self.planted,
        )

    def at(self, seconds: Floats) -> "Recording":
        """It at moments (k,), seconds from its beginning; before and after it, as it begins and ends."""
        own = self.steady
        u = np.clip(seconds * self.rate, 0.0, len(self.heading) - 1)
        low = np.minimum(u.astype(np.int64), max(len(self.heading) - 2, 0))
        high = np.minimum(low + 1, len(self.heading) - 1)
        share = u - low

        def between(values: Floats) -> Floats:
            s = share.reshape(-1, *(1,) * (values.ndim - 1))
            return np.asarray(values[low] * (1 - s) + values[high] * s)

        def turned(values: Floats) -> Floats:
            mixed = between(values)
            return np.asarray(mixed / np.linalg.norm(mixed, axis=-1, keepdims=True))

        return Recording(
            self.rate, between(own.place), between(own.heading), between(own.pelvis), turned(own.turns), between(own.ankles),
            turned(own.soles), own.planted[np.rint(u).astype(np.int64)],
        )  # fmt: skip


def _steady(turns: Floats) -> Floats:
    dots = np.sum(turns[1:] * turns[:-1], axis=-1)
    signs = np.cumprod(np.concatenate([np.ones((1, *dots.shape[1:])), np.where(dots < 0, -1.0, 1.0)]), axis=0)
    return np.asarray(turns * signs[..., None])


def write_recording(recording: Recording) -> bytes:
    """A recording as it is kept: numpy's own format; the same recording, the same bytes."""
    out = io.BytesIO()
    arrays = {one.name: np.asarray(getattr(recording, one.name)) for one in fields(recording)}
    kept = {
        name: v if v.dtype == bool else v.astype(np.float32 if v.ndim > 1 else np.float64)
        for name, v in arrays.items()
    }
    np.savez(out, allow_pickle=False, **kept)
    return out.getvalue()


def read_recording(content: bytes) -> Recording:
    """A recording as `write_recording` writes it.

    Raises:
        BadInput: it is damaged.
    """
    try:
        with np.load(io.BytesIO(content), allow_pickle=False) as found:
            arrays = {one.name: found[one.name] for one in fields(Recording)}
    except (OSError, ValueError, KeyError, EOFError, zipfile.BadZipFile):
        raise BadInput("The file of a motion is damaged.", "Bring it in again.") from None
    numbers = {name: v if v.dtype == bool else v.astype(np.float64) for name, v in arrays.items()}
    return Recording(**{**numbers, "rate": float(numbers["rate"])})


def recording_of(key: str) -> Recording | None:
    """A kept motion; None where it is not here."""
    return kept(key, read_recording)
