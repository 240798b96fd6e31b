"""Skeletons that are alike by the names of their joints."""

import hashlib


def alike(names: list[str]) -> str:
    """The same for skeletons whose joints have the same names."""
    return hashlib.sha256("\n".join(sorted(names)).encode()).hexdigest()[:24]
